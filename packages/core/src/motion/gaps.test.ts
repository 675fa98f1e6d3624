import { expect } from 'chai';
import { cameraStep as step } from '../../../../tests/support/camera-step.js';
import { lostBefore } from './gaps.js';
import type { CameraStep } from './motion-analysis.js';

const WIDTH = 1000;
/** A pan of 4 px a frame with a little unevenness. */
const pan = (frames: number): (CameraStep | null)[] =>
  Array.from({ length: frames }, (_, f) => (f === 0 ? null : step(4 + 0.3 * Math.sin(f), 0.2)));
const whole = [{ startFrame: 0, endFrame: 29 }];

describe('lost frames', () => {
  it('show as a step twice as long in an even move', () => {
    const steps = pan(30);
    steps[12] = step(8.1, 0.3);
    steps[25] = step(7.8, 0.5);
    expect(lostBefore(steps, new Set(), whole, WIDTH)).to.deep.equal([12, 25]);
  });

  it('are not told from a camera that stands, is shaken, or speeds up', () => {
    const standing = pan(30).map((s) => s && step(0.05));
    standing[10] = step(0.1);
    expect(lostBefore(standing, new Set(), whole, WIDTH)).to.deep.equal([]);
    const shaken = Array.from({ length: 30 }, (_, f) => step(6 * Math.sin(2.1 * f), 5 * Math.cos(1.7 * f)));
    expect(lostBefore(shaken, new Set(), whole, WIDTH)).to.deep.equal([]);
    const faster = Array.from({ length: 30 }, (_, f) => step(f < 15 ? 4 : 8));
    expect(lostBefore(faster, new Set(), whole, WIDTH)).to.deep.equal([]);
  });

  it('are not looked for across a cut, and a repeated frame says nothing of the speed', () => {
    const steps = pan(30);
    steps[15] = step(8);
    const shots = [
      { startFrame: 0, endFrame: 14 },
      { startFrame: 15, endFrame: 29 },
    ];
    expect(lostBefore(steps, new Set(), shots, WIDTH)).to.deep.equal([]);
    const uneven = pan(30);
    uneven[7] = step(0);
    uneven[8] = step(8);
    expect(lostBefore(uneven, new Set([7]), whole, WIDTH)).to.deep.equal([8]);
  });
});
