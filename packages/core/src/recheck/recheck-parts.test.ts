import { expect } from 'chai';
import type { HarmValues } from '#document';
import { HarmValues as HarmSchema, USUAL_HARM_LIMITS } from '#document';
import { HOUSE_SPEC, measurementWith } from '../../../../tests/support/measurement.js';
import type { HarmFigure } from '../harm/figure.js';
import type { Harm } from '../harm/harm.js';
import type { Level } from '../picture/pyramid.js';
import { carriedOverrides } from './carry.js';
import { combined, type HarmedWindow } from './combine.js';
import { judgeRecheck, type Evidence } from './judge.js';
import { meansOf } from './means.js';
import { candidatesOf, offsetsByChange, offsetsOf, signatureOf, whichOf } from './offsets.js';
import { atSizes, centred, cropOf, laidOver, likeness, place, scaleOf, turnOf } from './placement.js';

/** A textured picture: sums of waves that no shift of a few pixels repeats. */
const picture = (width: number, height: number, seed = 0, shift = 0): Level => ({
  width,
  height,
  samples: Float32Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [(i % width) - width / 2 + shift, Math.floor(i / width) - height / 2];
    let sum = 100 + seed;
    for (let k = 1; k < 9; k++)
      sum +=
        12 * Math.sin(0.07 * k * x + (0.9 * k + seed) * 0.11 * y + k * (seed + 1)) +
        5 * Math.cos(0.21 * k * y - k);
    return sum;
  }),
});

describe('a picture in few means', () => {
  it('has in each part the mean of what lies in it, whatever the sizes', () => {
    const { width, height, samples } = picture(61, 37);
    const means = meansOf({ width, height, samples }, 8, 5);
    const [left, right, top, bottom] = [22, 31, 14, 23];
    let [sum, count] = [0, 0];
    for (let y = top; y < bottom; y++)
      for (let x = left; x < right; x++, count++) sum += samples[y * width + x];
    // The fourth of eight parts of 61 samples, and the third of five of 37: both share samples with their neighbours.
    expect(means[2 * 8 + 3]).to.be.closeTo(sum / count, 1e-3);
    expect(
      Array.from(meansOf({ width: 7, height: 3, samples: new Uint16Array(21).fill(9) }, 4, 2)),
    ).to.deep.equal(Array<number>(8).fill(9));
  });

  it('is the picture itself where each part is a sample', () => {
    const { width, height, samples } = picture(24, 10);
    expect(Array.from(meansOf({ width, height, samples }, 24, 10))).to.deep.equal(Array.from(samples));
  });
});

describe('where a repaired picture lies', () => {
  it('is found again when it was enlarged, turned and moved', () => {
    const original = picture(192, 108);
    const truth = { a: 1.08 * Math.cos(0.01), b: 1.08 * Math.sin(0.01), dx: 3.2, dy: -1.7 };
    // The picture that such a repair makes: each of its points looked up in the original.
    const k = 1 / (truth.a ** 2 + truth.b ** 2);
    const back = {
      a: k * truth.a,
      b: -k * truth.b,
      dx: -k * (truth.a * truth.dx + truth.b * truth.dy),
      dy: -k * (truth.a * truth.dy - truth.b * truth.dx),
    };
    const { level: repaired } = laidOver(original, back, original);
    const found = place(original, repaired);
    expect(found.likeness).to.be.greaterThan(0.98);
    expect(scaleOf(found.placement)).to.be.closeTo(1.08, 0.002);
    expect(turnOf(found.placement)).to.be.closeTo((0.01 * 180) / Math.PI, 0.05);
    expect(found.placement.dx).to.be.closeTo(3.2, 0.15);
    expect(found.placement.dy).to.be.closeTo(-1.7, 0.15);
  });

  it('is not found in another picture', () => {
    expect(place(picture(192, 108), picture(192, 108, 7)).likeness).to.be.lessThan(0.88);
  });

  it('says how much of the picture is gone, whatever the sizes', () => {
    const [hd, half] = [
      { width: 1920, height: 1080 },
      { width: 960, height: 540 },
    ];
    expect(cropOf(centred(1), hd, hd)).to.equal(0);
    expect(cropOf(centred(1 / 0.9), hd, hd)).to.be.closeTo(10, 1e-9);
    expect(cropOf(centred(0.5), hd, half)).to.be.closeTo(0, 1e-9);
    expect(cropOf(centred(1), hd, half), 'cut out, not scaled').to.be.closeTo(50, 1e-9);
    const small = { a: 1, b: 0, dx: 2, dy: 1 };
    expect(atSizes(small, 10, 5)).to.deep.equal({ a: 0.5, b: 0, dx: 10, dy: 5 });
  });

  it('counts as alike only what both show', () => {
    const one = picture(64, 36);
    const seen = new Uint8Array(one.samples.length).fill(1);
    expect(likeness(one, one, seen)).to.be.closeTo(1, 1e-6);
    expect(likeness(one, { ...one, samples: one.samples.map((v) => 0.5 * v + 40) }, seen)).to.be.closeTo(
      1,
      1e-6,
    );
    expect(likeness(one, one, new Uint8Array(one.samples.length))).to.equal(-1);
  });
});

describe('from which frame on a repaired file is the original', () => {
  const moving = (count: number, from = 0): Level[] =>
    Array.from({ length: count }, (_, i) => picture(96, 54, 0, 2.3 * (i + from)));

  it('is the offset at which its frames are most alike, handles and parts included', () => {
    const original = moving(40).map(signatureOf);
    for (const [from, count] of [
      [0, 40],
      [9, 20],
      [-6, 30],
    ] as const)
      expect(offsetsOf(original, moving(count, from).map(signatureOf))[0].offset).to.equal(from);
  });

  it('is told by what changes where nothing moves', () => {
    const still = (count: number, from: number): Float32Array[] =>
      Array.from({ length: count }, (_, i) => {
        const { samples, ...size } = picture(96, 54);
        const n = i + from;
        return signatureOf({
          ...size,
          samples: samples.map((v, j) => v + 2 * Math.sin(n * 1.7 + (j % 96) * 0.2 * (n % 5))),
        });
      });
    expect(offsetsByChange(still(40, 0), still(20, 11))[0].offset).to.equal(11);
  });

  it('has candidates that lie apart', () => {
    const offsets = [5, 6, 4, 20, 21, -3].map((offset, i) => ({ offset, alike: 1 - i / 10 }));
    expect(candidatesOf(offsets, 4, 2).map((c) => c.offset)).to.deep.equal([5, 20]);
  });

  it('names the frame among its neighbours', () => {
    const frames = moving(7);
    const seen = new Uint8Array(96 * 54).fill(1);
    const alike = whichOf(frames, { ...frames[4], samples: frames[4].samples.map((v) => 0.9 * v + 8) }, seen);
    expect(alike.indexOf(Math.max(...alike))).to.equal(4);
  });
});

describe('what a technician decided', () => {
  const size = { width: 1000, height: 500, frames: 50 };

  it('holds for a cropped part: places follow the crop, frames the offset', () => {
    const carried = carriedOverrides(
      {
        range: { startFrame: 20, endFrame: 40 },
        interest: { x: 450, y: 200, width: 100, height: 100 },
        masks: [
          {
            shape: { kind: 'rectangle', x: 0, y: 0, width: 100, height: 50 },
            frames: { startFrame: 12, endFrame: 90 },
          },
        ],
        intent: 'panning',
      },
      { placement: centred(2), offset: 10 },
      size,
      size,
    );
    expect(carried.range).to.deep.equal({ startFrame: 10, endFrame: 30 });
    expect(carried.interest).to.deep.include({ width: 200, height: 200 });
    expect(carried.interest!.x).to.be.closeTo(400, 1);
    expect(carried.intent).to.equal('panning');
    expect(carried.masks![0].frames).to.deep.equal({ startFrame: 2, endFrame: 49 });
  });

  it('is left out where the repaired file does not show it', () => {
    const patch = { x: 0, y: 0, width: 40, height: 40 };
    const carried = carriedOverrides({ noisePatch: patch }, { placement: centred(2), offset: 0 }, size, size);
    expect(carried).to.deep.equal({});
    expect(
      carriedOverrides({ noisePatch: patch }, { placement: centred(1), offset: 0 }, size, size).noisePatch,
    ).to.deep.equal(patch);
  });
});

const unseen: HarmFigure = { value: null, reason: 'Nothing goes its own way.' };
const figure = (value: number, tiles = 20): HarmFigure => ({
  value,
  tiles,
  frames: 1,
  worst: { x: 5, y: 6, frame: 1 },
});
const harmOf = (more: Partial<Record<keyof HarmValues, HarmFigure>> = {}): Harm =>
  ({
    ...Object.fromEntries(Object.keys(HarmSchema.shape).map((name) => [name, figure(0)])),
    detailKeptPct: figure(99),
    mediumDetailKeptPct: figure(100),
    grainEvenness: figure(0.9),
    smearPct: unseen,
    ...more,
  }) as unknown as Harm;
const windows = (...harms: Harm[]): HarmedWindow[] => harms.map((harm, i) => ({ frame: 10 * i, harm }));

describe('harm at several places', () => {
  it('is one figure each: detail by its tiles, ghosts what most places stay below', () => {
    const { harm, notMeasurable, worstAt } = combined(
      windows(
        harmOf({ detailKeptPct: figure(90, 30), ghostPct: figure(1) }),
        harmOf({ detailKeptPct: figure(60, 10), ghostPct: figure(2) }),
        harmOf({ detailKeptPct: unseen, ghostPct: figure(40) }),
        harmOf({ detailKeptPct: unseen, ghostPct: figure(1) }),
      ),
    );
    expect(harm.detailKeptPct).to.equal(82.5);
    expect(harm.ghostPct, 'one place may be chance').to.equal(2);
    expect(harm.smearPct).to.equal(null);
    expect(notMeasurable.smearPct).to.equal('Nothing goes its own way.');
    expect(worstAt.detailKeptPct).to.deep.equal({ x: 5, y: 6, frame: 10 });
    expect(combined([]).harm.detailKeptPct).to.equal(null);
  });
});

describe('the verdict on a repair', () => {
  const noisy = measurementWith({ noise: { lumaPct: 3 } });
  const step: Evidence['steps'][number] = {
    treatment: 'reduceNoise',
    defect: 'noise',
    expect: { reading: 'lumaPct', unit: '%', from: 3, to: 0.8 },
  };
  const judged = (more: Partial<Evidence>, all = windows(harmOf(), harmOf(), harmOf())) =>
    judgeRecheck({
      original: noisy,
      repaired: measurementWith({ noise: { lumaPct: 0.8 } }),
      spec: { ...HOUSE_SPEC, harm: [...USUAL_HARM_LIMITS] },
      steps: [step],
      alignment: { frameOffset: 0 } as Evidence['alignment'],
      times: [],
      windows: all,
      combined: combined(all),
      ...more,
    });

  it('accepts what is mended and harms nothing, with what it came to', () => {
    const { verdict, because, readings } = judged({});
    expect(verdict).to.equal('accepted');
    expect(because).to.deep.equal([
      'Noise went from 3 % to 0.8 %; nothing else was harmed beyond its limit.',
    ]);
    expect(readings.find((r) => r.reading === 'lumaPct')).to.include({
      before: 3,
      after: 0.8,
      expected: 0.8,
      verdictBefore: 'fail',
      verdictAfter: 'pass',
    });
  });

  it('sends back what still fails, and only remarks what nobody was to mend', () => {
    const still = judged({ repaired: noisy });
    expect(still.verdict).to.equal('sendBack');
    expect(still.because[0]).to.match(/^Noise is still 3 %, 3 % before: .* expected 0.8 %/);
    const unplanned = judged({ repaired: noisy, steps: [] });
    expect(unplanned.verdict).to.equal('acceptedWithRemarks');
    expect(unplanned.because[0]).to.contain('no step of the plan was to mend it');
  });

  it('sends back what is new: a defect, a tag, frames that are gone', () => {
    const flickering = measurementWith({
      noise: { lumaPct: 0.8 },
      flicker: { depthPct: 9, frequencyHz: 4, pattern: 'whole-frame' },
    });
    expect(judged({ repaired: flickering })).to.include({ verdict: 'sendBack' });
    expect(judged({ repaired: flickering }).newFindings[0]).to.include({
      what: 'flicker.depthPct',
      verdict: 'fail',
    });
    const clean = measurementWith({ noise: { lumaPct: 0.8 } });
    const tagged = { ...clean, clip: { ...clean.clip, range: 'full' as const } };
    expect(judged({ repaired: tagged }).because.join()).to.contain('full range');
    const dropped = judged({ times: [{ kind: 'dropped', frame: 31, count: 2 }] });
    expect(dropped).to.include({ verdict: 'sendBack' });
    expect(dropped.because[0]).to.equal('2 frames are missing, before frame 31: movement jumps there.');
    const part = judged({ times: [{ kind: 'missing', frame: 0, count: 1 }] });
    expect(part).to.include({ verdict: 'acceptedWithRemarks' });
    expect(part.because[0]).to.equal('It is a part: the first frame of the original is not there.');
  });

  it('holds each harm against its limit, and says where to look', () => {
    const gone = judged(
      {},
      windows(...Array.from({ length: 3 }, () => harmOf({ detailKeptPct: figure(60) }))),
    );
    expect(gone.verdict).to.equal('sendBack');
    expect(gone.because[0]).to.equal(
      'Fine detail is gone: 60 % are left, 85 % must be. Look at frame 0, at 5, 6.',
    );
    const some = judged({}, windows(...Array.from({ length: 3 }, () => harmOf({ haloPct: figure(7) }))));
    expect(some.verdict).to.equal('acceptedWithRemarks');
    const free = judged(
      { spec: { ...HOUSE_SPEC, harm: [] } },
      windows(...Array.from({ length: 3 }, () => harmOf({ haloPct: figure(70) }))),
    );
    expect(free.verdict, 'a delivery that limits no harm').to.equal('accepted');
  });

  it('leads to the frame that each sentence names', () => {
    const flickering = measurementWith({
      noise: { lumaPct: 3 },
      flicker: { depthPct: 9, frequencyHz: 4, pattern: 'whole-frame' },
    });
    const place = { x: 4, y: 4, width: 8, height: 8, startFrame: 10, endFrame: 14 };
    const { noise, flicker } = flickering.readings;
    const inPlaces = {
      ...flickering,
      readings: {
        ...flickering.readings,
        noise: { ...noise, regions: [place] },
        flicker: { ...flicker, regions: [{ ...place, startFrame: 60, endFrame: 64 }] },
      },
    } as typeof flickering;
    const { reasons } = judged({ repaired: inPlaces });
    const led = reasons.filter((r) => r.frames);
    expect(led.map((r) => r.about)).to.have.members(['noise.lumaPct', 'new flicker.depthPct']);
    for (const { says, frames } of led) {
      const middle = Math.round((frames!.startFrame + frames!.endFrame) / 2);
      expect(says).to.contain(`Look at frame ${middle}.`);
    }
    expect(led.map((r) => r.frames!.startFrame)).to.include.members([10, 62]);
  });

  it('names a frame by its number in both files where they begin with different ones', () => {
    const soft = windows(...Array.from({ length: 3 }, () => harmOf({ detailKeptPct: figure(60) })));
    const part = judged({ alignment: { frameOffset: 12 } as Evidence['alignment'] }, soft);
    expect(part.because[0]).to.contain('Look at frame 0 (12 of the original), at 5, 6.');
    const cut = judged({
      alignment: { frameOffset: 12 } as Evidence['alignment'],
      times: [{ kind: 'dropped', frame: 31, count: 2 }],
    });
    expect(cut.because[0]).to.equal(
      '2 frames are missing, before frame 31 (in the original from frame 43): movement jumps there.',
    );
  });

  it('finds the one place that is softer than the rest', () => {
    const { newFindings, verdict } = judged(
      {},
      windows(
        harmOf(),
        harmOf(),
        harmOf({ detailKeptPct: figure(40) }),
        harmOf(),
        harmOf(),
        harmOf(),
        harmOf(),
      ),
    );
    expect(verdict).to.equal('sendBack');
    expect(newFindings).to.have.length(1);
    expect(newFindings[0]).to.include({ what: 'softPlace', frame: 20 });
  });
});
