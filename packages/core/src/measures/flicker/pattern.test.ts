import { seeded } from '@bevrin/rig';
import { expect } from 'chai';
import { BANDS } from './light.js';
import { acrossBands, analyseShot } from './pattern.js';

const RATE = 25;
const FRAMES = 100;

type Light = (t: number, band: number) => number;
/** Log light of each row band, for light of 1 + what is given. */
const curvesOf = (light: Light, frames = FRAMES): Float64Array[] =>
  Array.from({ length: BANDS }, (_, b) =>
    Float64Array.from({ length: frames }, (_, f) => Math.log(1 + light(f / RATE, b))),
  );
/** Errors as large as so much, independent between frames and bands. */
const errorsOf = (size: number, frames = FRAMES): Float64Array[] => {
  const random = seeded(7);
  return Array.from({ length: BANDS }, () =>
    Float64Array.from({ length: frames }, () => size * Math.sqrt(12) * (random() - 0.5)),
  );
};
const analyse = (light: Light, frames = FRAMES) =>
  analyseShot(curvesOf(light, frames), errorsOf(1e-4, frames), RATE)!;
const wave = (depth: number, hz: number, t: number): number => depth * Math.sin(2 * Math.PI * hz * t);

describe('what the light of a shot does', () => {
  it('is a pulse of the whole frame: depth, rhythm, no bars', () => {
    const found = analyse((t) => wave(0.05, 4.3, t));
    expect(found.regular).to.equal(true);
    expect(found.depth).to.be.closeTo(0.05, 0.002);
    expect(found.frequencyHz).to.be.closeTo(4.3, 0.02);
    expect(found.bars).to.equal(0);
    expect(found.rms).to.be.closeTo(0.05 / Math.SQRT2, 0.002);
  });

  it('is bars with their number and their way, as deep as the light though each band averages it', () => {
    for (const bars of [2.5, -6]) {
      const found = analyse((t, b) => {
        const phase = 2 * Math.PI * (3 * t - (bars * (b + 0.5)) / BANDS);
        const loss = Math.sin((Math.PI * bars) / BANDS) / ((Math.PI * bars) / BANDS);
        return 0.08 * loss * Math.cos(phase);
      });
      expect(found.bars).to.be.closeTo(bars, 0.05);
      expect(found.depth).to.be.closeTo(0.08, 0.003);
      expect(found.frequencyHz).to.be.closeTo(3, 0.02);
    }
  });

  it('is irregular where no rhythm explains it', () => {
    const random = seeded(11);
    const light = Array.from({ length: FRAMES }, () => 0.06 * (random() - 0.5));
    const found = analyse((t) => light[Math.round(t * RATE)]);
    expect(found.regular).to.equal(false);
    expect(found.rms).to.be.closeTo(0.06 / Math.sqrt(12), 0.003);
  });

  it('is no deeper than it swings, where every other frame is darker and more so from frame to frame', () => {
    // A wave just below half of the frame rate fits that too, if only it is made many times as high.
    const found = analyse((t) => 0.01 * (t / 4) * (Math.round(t * RATE) % 2 === 0 ? 1 : -1));
    expect(found.rms).to.be.closeTo(0.01 / Math.sqrt(3), 0.001);
    expect(found.depth).to.be.below(2.5 * found.rms);
  });

  it('is a rhythm at half of the frame rate, too, where every other frame is darker', () => {
    const found = analyse((t) => (Math.round(t * RATE) % 2 === 0 ? 0.03 : -0.03));
    expect(found.regular).to.equal(true);
    expect(found.frequencyHz).to.equal(RATE / 2);
    expect(found.depth).to.be.closeTo(0.03, 0.001);
  });

  it('has no rhythm that was not seen twice', () => {
    expect(analyse((t) => wave(0.05, 0.45, t), 25).periodicShare).to.equal(0);
  });

  it('has no rhythm where the two times that it is thought to be seen are not alike: what comes by once is no bar', () => {
    const passing = (t: number, b: number): number => {
      const since = t - 0.6 - (0.4 * b) / BANDS;
      return 0.02 * Math.exp(-((since / 0.55) ** 2)) * Math.cos(2 * Math.PI * since);
    };
    expect(analyse(passing, 55).regular).to.equal(false);
    const slow = analyse((t) => wave(0.02, 1.1, t), 55);
    expect(slow.regular, 'a slow pump, seen as often, is the same both times').to.equal(true);
    expect(slow.frequencyHz).to.be.closeTo(1.1, 0.05);
  });

  it('is as deep as in most bands, whatever passes through some of them at its rhythm', () => {
    const found = analyse(
      (t, b) => (b < 5 ? 4 : 1) * 0.02 * Math.sin(2 * Math.PI * (3 * t - (2.5 * b) / BANDS)),
    );
    expect(found.bars).to.be.closeTo(2.5, 0.1);
    expect(found.depth).to.be.closeTo(0.02, 0.002);
  });

  it('is as deep as the peaks of a pulse that is no sine', () => {
    const found = analyse((t) => wave(0.05, 3, t) + wave(0.02, 6, t));
    const course = Array.from({ length: 1000 }, (_, i) => wave(0.05, 3, i / 3000) + wave(0.02, 6, i / 3000));
    const swing = (Math.max(...course) - Math.min(...course)) / 2;
    expect(found.depth).to.be.closeTo(swing, 0.002);
  });

  it('is what is seen between flashes: one bright frame does not set the depth', () => {
    const found = analyse((t) => wave(0.03, 5, t) + (Math.round(t * RATE) === 50 ? 0.8 : 0));
    expect(found.depth).to.be.closeTo(0.03, 0.003);
  });

  it('is the rhythm of them all where some bands are followed badly and drift', () => {
    const drifting = (t: number, b: number): number =>
      b > 18 ? 0.1 * Math.sin(2 * Math.PI * (0.9 * t + b / 7)) : 0;
    const found = analyse((t, b) => wave(0.03, 7.8, t) + drifting(t, b));
    expect(found.regular).to.equal(true);
    expect(found.bars).to.equal(0);
    expect(found.frequencyHz).to.be.closeTo(7.8, 0.05);
    expect(found.depth).to.be.closeTo(0.03, 0.004);
  });

  it('is not claimed of a dozen frames or fewer', () => {
    expect(
      analyseShot(
        curvesOf((t) => wave(0.05, 4, t), 11),
        errorsOf(1e-4, 11),
        RATE,
      ),
    ).to.equal(null);
  });

  it('is told of a dozen frames that hold their exposure, however long it changed between them', () => {
    const bands = curvesOf((t) => wave(0.05, 4, t), 80).map((b) => b.fill(NaN, 6, 74));
    const told = (holding?: number) => analyseShot(bands, errorsOf(1e-4, 80), RATE, holding);
    expect(told(), 'nothing of most of its frames is known').to.equal(null);
    expect(told(12)?.frames).to.equal(12);
  });

  it('is known less well where errors are larger', () => {
    const random = seeded(13);
    const noisy = (size: number): number =>
      analyse((t, b) => wave(0.05, 4, t) + (b < BANDS ? size * (random() - 0.5) : 0)).depthError;
    expect(noisy(0.02)).to.be.above(2 * noisy(0.002));
  });
});

describe('light across the bands', () => {
  it('is not moved by the few that something passes through', () => {
    const bands = curvesOf((_, b) => (b < 8 ? 0.5 : 0.1), 3);
    expect(acrossBands(bands)[1]).to.be.closeTo(Math.log(1.1), 1e-9);
  });
});
