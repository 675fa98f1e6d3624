import { expect } from 'chai';
import { seeded } from '@bevrin/rig';
import { cameraStep } from '../../../../../tests/support/camera-step.js';
import { ROW_BANDS } from '../../motion/camera-fit.js';
import type { CameraStep } from '../../motion/motion-analysis.js';
import { findReadout } from './readout.js';

const HEIGHT = 1080;
const FRAMES = 60;

/** Where the camera looks, pixels, at a time in frames: a hand's sway and its tremor. */
const hand = (t: number): number =>
  6 * Math.sin(0.31 * t) + 3 * Math.sin(1.07 * t + 1) + 1.2 * Math.sin(1.9 * t + 2);

interface Seen {
  readonly fraction: number;
  readonly noisePx?: number;
  /** Bands of so many frames that follow something else. */
  readonly strange?: number;
}

/** Steps whose row bands were each looked at in their own time. */
const steps = ({ fraction, noisePx = 0, strange = 0 }: Seen): CameraStep[] => {
  const random = seeded(5);
  const noise = (): number => noisePx * (random() + random() + random() - 1.5) * 2;
  return Array.from({ length: FRAMES }, (_, frame) => {
    const bands = new Float32Array(2 * ROW_BANDS);
    for (let b = 0; b < ROW_BANDS; b++) {
      const at = fraction * ((b + 0.5) / ROW_BANDS);
      const off = frame > 0 && frame <= strange && b < 3 ? 9 : 0;
      bands[2 * b] = hand(frame + at) - hand(frame - 1 + at) + noise() + off;
      bands[2 * b + 1] = noise();
    }
    return { ...cameraStep(bands[ROW_BANDS]), bands, known: new Float32Array(2 * ROW_BANDS).fill(1) };
  });
};

const found = (seen: Seen) => findReadout([{ steps: steps(seen), startFrame: 0 }], HEIGHT)!;

describe('the read-out of a sensor, by its row bands', () => {
  for (const fraction of [0.1, 0.37, 0.62, 0.9])
    it(`is found where it is ${fraction} of a frame`, () => {
      const { fraction: read, plainness, error } = found({ fraction, noisePx: 0.02 });
      expect(read).to.be.closeTo(fraction, 0.02);
      expect(plainness).to.be.lessThan(0.6);
      expect(Math.abs(read - fraction)).to.be.lessThan(3 * error + 0.005);
    });

  it('is next to none where all rows are read at once', () => {
    expect(found({ fraction: 0, noisePx: 0.02 }).fraction).to.be.lessThan(0.02);
  });

  it('is not bent by bands that follow somebody who walks through', () => {
    expect(found({ fraction: 0.5, noisePx: 0.02, strange: 12 }).fraction).to.be.closeTo(0.5, 0.02);
  });

  it('is known the less well the more the bands err', () => {
    const [quiet, noisy] = [0.02, 0.2].map((noisePx) => found({ fraction: 0.5, noisePx }));
    expect(noisy.error).to.be.greaterThan(3 * quiet.error);
    expect(noisy.plainness).to.be.greaterThan(quiet.plainness);
  });

  it('leaves unexplained, at the best of the read-outs, what the bands err by, and more at the others', () => {
    const { candidates } = found({ fraction: 0.5, noisePx: 0.05 });
    const at = (fraction: number): number =>
      candidates.find((c) => Math.abs(c.fraction - fraction) < 0.01)!.residualPx;
    // Both directions err by the noise: three uniform numbers, doubled, have a variance of one.
    expect(at(0.5)).to.be.within(0.04, 0.08);
    expect(at(0)).to.be.greaterThan(4 * at(0.5));
    expect(at(1)).to.be.greaterThan(4 * at(0.5));
    expect(candidates.map((c) => c.fraction)).to.have.length(21);
  });

  it('says how far the rows lie off the middle one, and the last off the first, by where the camera was', () => {
    const { wobblePx, skew } = found({ fraction: 0.8, noisePx: 0.005 });
    const [off, lean]: [number[], number[]] = [[], []];
    for (let f = 0; f < FRAMES; f++) {
      lean.push(hand(f + 0.8) - hand(f));
      for (let b = 0; b < ROW_BANDS; b++) off.push(hand(f + (0.8 * (b + 0.5)) / ROW_BANDS) - hand(f + 0.4));
    }
    const rms = Math.sqrt(off.reduce((sum, d) => sum + d * d, 0) / off.length);
    expect(wobblePx).to.be.closeTo(rms, 0.1 * rms);
    for (const { frame, px } of skew.slice(2, -2))
      expect(px, `frame ${frame}`).to.be.closeTo(lean[frame], 0.25);
  });

  it('is not told of too few bands', () => {
    expect(findReadout([{ steps: steps({ fraction: 0.5 }).slice(0, 10), startFrame: 0 }], HEIGHT)).to.equal(
      null,
    );
  });
});
