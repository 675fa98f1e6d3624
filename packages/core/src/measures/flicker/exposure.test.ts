import { expect } from 'chai';
import { coursesOf, withoutRamp } from './course.js';
import { exposureChangesIn, withoutChange } from './exposure.js';

const RATE = 25;
/** Log light of frames, with a trace of what is never followed exactly. */
const curve = (light: (frame: number) => number, frames = 100): Float64Array =>
  Float64Array.from({ length: frames }, (_, f) => Math.log(light(f)) + 0.001 * Math.sin(f * 7));
const ramp = (from: number, frames: number, size: number) => (f: number) =>
  1 + size * Math.min(1, Math.max(0, (f - from) / frames));

describe('changes of the exposure', () => {
  it('are told with frame, length and size: a step, and a ramp', () => {
    const [step, ...noMore] = exposureChangesIn(
      curve((f) => (f >= 40 ? 1.35 : 1)),
      RATE,
    );
    expect(noMore).to.be.empty;
    expect(step.frame).to.equal(40);
    expect(step.frames).to.equal(1);
    expect(Math.exp(step.size)).to.be.closeTo(1.35, 0.02);
    const [slow] = exposureChangesIn(curve(ramp(30, 18, 0.5)), RATE);
    expect(slow.frame).to.be.closeTo(31, 2);
    expect(slow.frames).to.be.closeTo(17, 4);
    expect(Math.exp(slow.size)).to.be.closeTo(1.5, 0.03);
  });

  it('are told whole where one takes most of the shot', () => {
    const length = 44;
    const light = curve((f) => 1.45 ** Math.min(1, Math.max(0, (f - 8) / length)), 60);
    const changes = exposureChangesIn(light, RATE);
    expect(changes).to.have.length(1);
    expect(changes[0].frame).to.be.closeTo(9, 1);
    expect(changes[0].frames).to.be.closeTo(length, 1);
    expect(Math.exp(changes[0].size)).to.be.closeTo(1.45, 0.02);
    // No frame is far from it: nothing is known without it, and all is once it is taken out.
    expect(withoutChange(light, changes[0]).filter((v) => !Number.isNaN(v))).to.have.length.below(12);
    const flat = coursesOf(light, changes).reduce(withoutRamp, light);
    expect(Math.max(...flat) - Math.min(...flat)).to.be.lessThan(0.02);
  });

  it('are told apart where one follows the other, and with a flicker over them', () => {
    const down = ramp(20, 6, -0.3);
    const up = ramp(50, 20, 0.25);
    const found = exposureChangesIn(
      curve((f) => down(f) * up(f)),
      RATE,
    );
    expect(found.map((c) => Math.sign(c.size))).to.deep.equal([-1, 1]);
    const pumped = exposureChangesIn(
      curve((f) => (1 + 0.04 * Math.sin(f * 1.1)) * (f >= 50 ? 1.3 : 1)),
      RATE,
    );
    expect(pumped).to.have.length(1);
    expect(pumped[0].frame).to.be.closeTo(50, 1);
  });

  it('are told apart where the light goes back after less than a second', () => {
    const found = exposureChangesIn(
      curve((f) => (f >= 22 && f < 44 ? 1.3 : 1), 60),
      RATE,
    );
    expect(found.map((c) => c.frame)).to.deep.equal([22, 44]);
    expect(Math.exp(found[0].size)).to.be.closeTo(1.3, 0.02);
    expect(Math.exp(found[1].size)).to.be.closeTo(1 / 1.3, 0.02);
  });

  for (const [what, light] of [
    ['a frame that is darker alone', (f: number) => (f === 50 ? 0.55 : 1)],
    ['a light that swings slowly', (f: number) => 1 + 0.1 * Math.sin((2 * Math.PI * 0.6 * f) / RATE)],
    ['a light that pumps', (f: number) => 1 + 0.1 * Math.sin((2 * Math.PI * 1.3 * f) / RATE)],
    ['a light without a rhythm', (f: number) => 1 + 0.05 * Math.sin(f * f * 3.7)],
    ['a sky that slowly clears', (f: number) => 1 + 0.004 * f],
    ['a light that is switched to and fro', (f: number) => 1 + 0.2 * (Math.floor(f / 12) % 2)],
  ] as const)
    it(`are not ${what}`, () => {
      expect(exposureChangesIn(curve(light), RATE)).to.deep.equal([]);
    });

  it('are not made up of a drift and a ramp against it: a subject that comes near takes light in the last moment', () => {
    const near = (f: number): number => 1 - 0.043 * Math.max(0, Math.min(1, (f - 59) / 12)) ** 2;
    expect(exposureChangesIn(curve(near, 75), RATE)).to.deep.equal([]);
  });

  it('leave the light as it was without them, and nothing while they last', () => {
    const size = Math.log(1.5);
    const flat = withoutChange(curve(ramp(40, 10, 0.5)), { frame: 41, frames: 10, size });
    expect(flat[20]).to.be.closeTo(0, 0.002);
    expect(flat[80]).to.be.closeTo(0, 0.002);
    expect(flat[45]).to.be.NaN;
  });
});
