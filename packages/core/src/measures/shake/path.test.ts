import { expect } from 'chai';
import { cameraStep as step } from '../../../../../tests/support/camera-step.js';
import type { CameraStep } from '../../motion/motion-analysis.js';
import { cropFor, rootMeanSquare, splitPath } from './path.js';

const RATE = 25;
const FRAMES = 100;
const WIDTH = 1000;

/** Steps of a camera that is at x(t), y(t) pixels and has such a scale after t seconds. */
const camera = (x: (t: number) => number, y: (t: number) => number = () => 0, scale = (_t: number) => 0) =>
  Array.from({ length: FRAMES }, (_, f) => {
    const [now, before] = [f / RATE, (f - 1) / RATE];
    return step(x(now) - x(before), y(now) - y(before), scale(now) - scale(before));
  });
const split = (
  steps: readonly (CameraStep | null)[],
  repeated: readonly boolean[] = steps.map(() => false),
  intent?: 'locked-off' | 'panning',
) => splitPath(steps, repeated, RATE, WIDTH, intent);

const hand = (t: number): number => 12 * Math.sin(2 * Math.PI * 0.2 * t);
const trembling = (t: number): number => 2 * Math.SQRT2 * Math.sin(2 * Math.PI * 5 * t);

describe('the path of a camera', () => {
  it('is told apart: locked off, by hand, panning, travelling', () => {
    expect(split(camera((t) => 0.1 * Math.sin(30 * t))).camera).to.equal('locked-off');
    expect(split(camera(hand)).camera).to.equal('hand-held');
    expect(split(camera((t) => 40 * t)).camera).to.equal('panning');
    expect(split(camera(hand, undefined, (t) => 0.03 * t)).camera).to.equal('travelling');
  });

  it('keeps a fast tremble as jitter and a slow sway as meant', () => {
    const { jitterX, intendedX } = split(camera((t) => hand(t) + trembling(t)));
    const inner = jitterX.slice(15, -15);
    expect(rootMeanSquare(inner)).to.be.closeTo(2, 0.1);
    const meant = intendedX.slice(15, -15).map((v, k) => v - intendedX[0] - hand((k + 15) / RATE));
    expect(Math.max(...meant) - Math.min(...meant)).to.be.below(1.5);
  });

  it('calls all of it jitter where the camera was meant to stand', () => {
    const sway = camera(hand);
    const meantToStand = split(sway, undefined, 'locked-off');
    expect(rootMeanSquare(meantToStand.jitterX)).to.be.closeTo(12 / Math.SQRT2, 1);
    expect(rootMeanSquare(split(sway).jitterX)).to.be.below(1);
  });

  it('takes an unknown step to be like its neighbours', () => {
    const pan: (CameraStep | null)[] = camera((t) => 50 * t);
    pan[40] = null;
    const { jitterX } = split(pan);
    expect(rootMeanSquare(jitterX)).to.be.below(0.05);
  });

  it('knows nothing of frames that show the one before again', () => {
    const steps = camera((t) => 50 * t);
    const { jitterX } = split(
      steps,
      steps.map((_, f) => f === 30),
    );
    expect(jitterX[30]).to.be.NaN;
    expect(jitterX.filter((v) => Number.isNaN(v))).to.have.length(1);
  });
});

describe('the crop that hides a frame set back', () => {
  it('is twice the shift over the side that it is nearer to', () => {
    expect(cropFor(10, 0, 0, 1000, 500)).to.be.closeTo(0.02, 1e-9);
    expect(cropFor(10, 10, 0, 1000, 500)).to.be.closeTo(0.04, 1e-9);
  });

  it('fits a turned frame into itself: no corner of what is left lies outside', () => {
    const [width, height, turn] = [1920, 1080, 0.02];
    const left = 1 - cropFor(0, 0, turn, width, height);
    for (const [sx, sy] of [
      [1, 1],
      [1, -1],
    ]) {
      const [x, y] = [(sx * left * width) / 2, (sy * left * height) / 2];
      const [u, v] = [x * Math.cos(turn) - y * Math.sin(turn), x * Math.sin(turn) + y * Math.cos(turn)];
      expect(Math.abs(u)).to.be.at.most(width / 2 + 1e-6);
      expect(Math.abs(v)).to.be.at.most(height / 2 + 1e-6);
    }
  });

  it('never takes more than all', () => expect(cropFor(5000, 0, 0.1, 1000, 500)).to.equal(1));
});

describe('the root of a mean square', () => {
  it('leaves out what is not known, and is nothing of nothing', () => {
    expect(rootMeanSquare(Float64Array.of(3, NaN, -3))).to.equal(3);
    expect(rootMeanSquare(Float64Array.of(NaN))).to.equal(0);
  });
});
