import { expect } from 'chai';
import { cameraStep as step } from '../../../../../tests/support/camera-step.js';
import { rootMeanSquare, splitPath } from './path.js';
import { whipsIn } from './whips.js';

const RATE = 25;
const WIDTH = 1000;
const FRAMES = 100;

type Course = (t: number) => number;
const places = (course: Course): Float64Array =>
  Float64Array.from({ length: FRAMES }, (_, f) => course(f / RATE));
const still = places(() => 0);
const found = (across: Course, down: Course = () => 0) => whipsIn(places(across), places(down), RATE, WIDTH);

/** A hand that trembles by 2 px, RMS. */
const hand: Course = (t) => 2 * Math.SQRT2 * Math.sin(2 * Math.PI * 4 * t);
/** From one place to another within a third of a second, two seconds from the start. */
const whip: Course = (t) => 150 * Math.tanh((t - 2) / 0.08);

describe('whip pans', () => {
  it('are told from where they begin to where they end, in any direction', () => {
    for (const [across, down] of [
      [whip, () => 0],
      [(t: number) => -0.7 * whip(t), (t: number) => 0.5 * whip(t)],
    ] as const) {
      const [one, ...others] = found(across, down);
      expect(others).to.deep.equal([]);
      expect(one.from).to.be.within(43, 48);
      expect(one.to).to.be.within(52, 57);
    }
  });

  it('are no shake: what is left is the hand before and after', () => {
    const steps = Array.from({ length: FRAMES }, (_, f) => {
      const [now, before] = [f / RATE, (f - 1) / RATE];
      return step(whip(now) + hand(now) - whip(before) - hand(before), 0);
    });
    const { jitterX, intendedX } = splitPath(
      steps,
      steps.map(() => false),
      RATE,
      WIDTH,
      undefined,
    );
    expect(rootMeanSquare(jitterX)).to.be.closeTo(2, 0.3);
    expect(intendedX[80] - intendedX[20]).to.be.closeTo(300, 6);
  });

  it('stay where they go: a jolt comes back, a kick takes a frame, and a hand that only shakes goes both ways', () => {
    const jolt: Course = (t) => 80 * Math.exp(-(((t - 2) / 0.08) ** 2));
    expect(found(jolt)).to.deep.equal([]);
    const kick: Course = (t) => (t < 2 ? 0 : 60);
    expect(found(kick)).to.deep.equal([]);
    for (const hz of [0.8, 2, 5]) expect(found((t) => 60 * Math.sin(2 * Math.PI * hz * t))).to.deep.equal([]);
  });

  it('are not made of an even pan, of a slow one that begins, or of nothing', () => {
    expect(found((t) => 200 * t)).to.deep.equal([]);
    expect(found((t) => 60 * Math.max(0, t - 2))).to.deep.equal([]);
    expect(whipsIn(still, still, RATE, WIDTH)).to.deep.equal([]);
  });
});
