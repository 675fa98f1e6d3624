import { expect } from 'chai';
import { slowCourse } from '../../maths/smooth.js';
import { INTENDED_MOTION_HZ } from '../../motion/intended.js';
import { rootMeanSquare } from './path.js';
import { jitterPower } from './put-back.js';

const RATE = 25;

/** What a move leaves of a swing of 2 px, and of a move beside it. */
const leftOf = (hz: number, frames: number, phase: number, move = (_t: number) => 0): Float64Array => {
  const path = Float64Array.from(
    { length: frames },
    (_, f) => 2 * Math.sin((2 * Math.PI * hz * f) / RATE + phase) + move(f / RATE),
  );
  const course = slowCourse(path, RATE, INTENDED_MOTION_HZ);
  return path.map((v, f) => v - course[f]);
};
/** What a shot without ends leaves of it: half of a swing at the very rate of a move is meant. */
const withoutEnds = (hz: number): number => {
  const [swing, move] = [hz, INTENDED_MOTION_HZ].map((f) => Math.sin((Math.PI * f) / RATE));
  return Math.SQRT2 * (1 - 1 / (1 + (swing / move) ** 6));
};
const PHASES = [0, 1, 2, 3, 4, 5];
const meanOver = (of: (phase: number) => number): number =>
  PHASES.reduce((sum, p) => sum + of(p), 0) / PHASES.length;

describe('the power of jitter', () => {
  for (const [hz, frames] of [
    [1.3, 60],
    [1.3, 250],
    [2.1, 60],
    [2.1, 110],
    [7, 40],
  ] as const)
    it(`is that of a swing of ${hz} Hz in ${frames} frames, of which a move followed some`, () => {
      const plain = meanOver((p) => rootMeanSquare(leftOf(hz, frames, p)));
      const whole = meanOver((p) => Math.sqrt(jitterPower(leftOf(hz, frames, p), RATE)));
      const wanted = withoutEnds(hz);
      expect(Math.abs(whole / wanted - 1)).to.be.below(0.01);
      expect(plain / wanted).to.be.below(whole / wanted);
    });

  it('puts nothing back of what so short a shot leaves next to nothing of', () => {
    for (const [hz, frames] of [
      [1, 14],
      [1.6, 14],
      [0.9, 25],
      [5, 12],
    ]) {
      const whole = meanOver((p) => Math.sqrt(jitterPower(leftOf(hz, frames, p), RATE)));
      expect(whole / withoutEnds(hz), `${hz} Hz in ${frames} frames`).to.be.below(1.03);
    }
  });

  it('takes nothing of a move for jitter that was not there', () => {
    const sway = (t: number): number => 12 * Math.sin(2 * Math.PI * 0.2 * t) + 40 * t;
    const beside = meanOver((p) => Math.sqrt(jitterPower(leftOf(3, 100, p, sway), RATE)));
    expect(beside).to.be.closeTo(Math.SQRT2, 0.05);
  });

  it('knows nothing of frames that are not known, and is nothing of nothing', () => {
    const jitter = leftOf(3, 100, 1);
    const whole = jitterPower(jitter, RATE);
    const withGaps = jitter.map((v, f) => (f % 9 === 4 ? NaN : v));
    expect(jitterPower(withGaps, RATE)).to.be.closeTo(whole, 0.03 * whole);
    expect(jitterPower(new Float64Array(30).fill(NaN), RATE)).to.equal(0);
    expect(jitterPower(new Float64Array(30), RATE)).to.equal(0);
  });

  it('is what is left where so few frames a second show no swing that is quicker than a move', () => {
    expect(jitterPower(Float64Array.of(1, -1, 1, -1), 1)).to.equal(1);
  });
});
