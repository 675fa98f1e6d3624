import { expect } from 'chai';
import { DEFECTS, Measurement, type ClipFacts, type Defect, type Overrides } from '#document';
import { beginWith } from './engine.js';
import { loadMeasures, type LoadedMeasure } from './measures/loaded.js';
import { burstOf } from './picture/frame.js';
import { waveTable } from '../../../tests/support/wave-picture.js';

const facts = (width: number, height: number, frames: number): ClipFacts => ({
  file: 'drawn.mov',
  container: 'mov',
  codec: 'drawn',
  width,
  height,
  rotation: 0,
  pixelAspect: 1,
  frameRate: '25/1',
  variableFrameRate: false,
  scan: 'progressive',
  fieldOrder: null,
  bitDepth: 8,
  pixelFormat: 'yuv420p',
  frames,
  durationSec: frames / 25,
  range: 'limited',
  matrix: 'bt709',
  transfer: 'bt709',
  assumed: [],
});

type Luma = (x: number, y: number, frame: number) => number;

let measures: readonly LoadedMeasure[] = [];

interface How {
  /** Frames that really come. */
  readonly really?: number;
  readonly overrides?: Overrides;
  readonly only?: readonly Defect[];
}

/** Feeds a measurement with a drawn picture, as a decoder would. */
const measureDrawn = (
  clip: ClipFacts,
  luma: Luma,
  { really = clip.frames, overrides = {}, only }: How = {},
): Measurement => {
  const looking = only ? measures.filter(({ descriptor }) => only.includes(descriptor.defect)) : measures;
  const measurement = beginWith(looking, clip, { overrides, only });
  const first = overrides.range?.startFrame ?? 0;
  const last = Math.min(really - 1, overrides.range?.endFrame ?? really);
  const { small } = measurement.plan;
  const [cw, ch] = [Math.ceil(clip.width / 2), Math.ceil(clip.height / 2)];
  for (let f = 0; f + first <= last; f++) {
    // Loops, not `from` with a function: millions of samples are drawn.
    const full = new Uint8Array(clip.width * clip.height);
    for (let y = 0, i = 0; y < clip.height; y++)
      for (let x = 0; x < clip.width; x++, i++) full[i] = luma(x, y, f + first);
    const [kx, ky] = [clip.width / small.width, clip.height / small.height];
    const reduced = new Uint16Array(small.width * small.height);
    for (let v = 0, i = 0; v < small.height; v++) {
      const row = Math.floor((v + 0.5) * ky) * clip.width;
      for (let u = 0; u < small.width; u++, i++) reduced[i] = 256 * full[row + Math.floor((u + 0.5) * kx)];
    }
    measurement.take({ view: 'small', index: f, planes: [{ ...small, samples: reduced }] });
    if (burstOf(measurement.plan, f) === null) continue;
    const grey = { width: cw, height: ch, samples: new Uint8Array(cw * ch).fill(128) };
    measurement.take({
      view: 'burst',
      index: f,
      planes: [{ width: clip.width, height: clip.height, samples: full }, grey, grey],
    });
  }
  return measurement.finish(really);
};

const hash = (x: number, y: number, f: number): number => {
  let h = Math.imul(x + 1, 374761393) ^ Math.imul(y + 1, 668265263) ^ Math.imul(f + 1, 1442695041);
  h = Math.imul(h ^ (h >>> 13), 1274126177);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
};
const waves = waveTable(5, { width: 380, height: 300, margin: 40 });

/** Paths of numbers that are none; JSON would write them as `null`, and hide them. */
const unsound = (value: unknown, path = ''): string[] => {
  if (typeof value === 'number') return Number.isFinite(value) ? [] : [`${path} is ${value}`];
  if (typeof value !== 'object' || value === null) return [];
  return Object.entries(value).flatMap(([key, inner]) => unsound(inner, `${path}.${key}`));
};

describe('the engine', function () {
  this.timeout(60_000);
  before(async () => void (measures = await loadMeasures()));

  const pictures: [string, Luma][] = [
    ['black', () => 16],
    ['white', () => 235],
    ['below black', () => 0],
    ['one grey', () => 120],
    ['pure noise', (x, y, f) => 16 + 219 * hash(x, y, f)],
    ['a picture that is held', (x, y) => 120 + 9 * waves.at(x, y)],
  ];
  for (const [name, luma] of pictures)
    it(`answers every defect on ${name} with a valid document`, () => {
      const result = measureDrawn(facts(96, 64, 30), luma);
      expect(() => Measurement.parse(result)).not.to.throw();
      expect(Object.keys(result.readings)).to.have.members([...DEFECTS]);
      expect(unsound(result)).to.deep.equal([]);
    });

  for (const [width, height, frames] of [
    [16, 16, 10],
    [2, 2, 3],
    [97, 63, 13],
    [64, 96, 2],
    [33, 300, 1],
  ])
    it(`answers a clip of ${width}×${height} and ${frames} frames, with reasons where it cannot know`, () => {
      const { readings } = measureDrawn(
        facts(width, height, frames),
        (x, y, f) => 100 + 12 * waves.at(x + f, y),
      );
      for (const defect of DEFECTS) {
        const reading = readings[defect];
        if (reading.state === 'notMeasurable') expect(reading.reason.length, defect).to.be.greaterThan(5);
      }
      if (frames === 1) expect(readings.noise.state).to.equal('notMeasurable');
    });

  it('gives the same document for the same frames', () => {
    const twice = [0, 1].map(() =>
      JSON.stringify(
        measureDrawn(facts(96, 64, 25), (x, y, f) => 100 + 12 * waves.at(x + 0.7 * f, y) + 6 * hash(x, y, f)),
      ),
    );
    expect(twice[0]).to.equal(twice[1]);
  });

  it('tells how many frames the clip really had', () => {
    expect(measureDrawn(facts(64, 64, 40), () => 90, { really: 31, only: ['noise'] }).clip.frames).to.equal(
      31,
    );
  });

  for (const [name, luma] of pictures)
    it(`answers every defect on ${name} where the picture is large enough for all of them`, () => {
      const result = measureDrawn(facts(320, 192, 26), luma);
      expect(() => Measurement.parse(result)).not.to.throw();
      expect(unsound(result)).to.deep.equal([]);
      for (const defect of DEFECTS) {
        const reading = result.readings[defect];
        if (reading.state === 'measured') expect(reading.confidence, defect).to.be.within(0, 1);
      }
    });

  it('answers a frame of 4096×2160, and pixels that are not square', () => {
    const large = measureDrawn(
      facts(4096, 2160, 2),
      (x, y, f) => 30 + (x >> 5) + (y >> 6) + 8 * hash(x, y, f),
    );
    expect(unsound(large)).to.deep.equal([]);
    const anamorphic = measureDrawn(
      { ...facts(144, 96, 14), pixelAspect: 1.422 },
      (x, y, f) => 100 + 12 * waves.at(x + f, y),
    );
    expect(() => Measurement.parse(anamorphic)).not.to.throw();
  });

  const blank = () => measureDrawn(facts(320, 192, 26), (x, y, f) => 120 + 3 * hash(x, y, f)).readings;
  it('says why shake, read-out and softness cannot be told where there is nothing to follow', () => {
    const { shake, rollingShutter, softness } = blank();
    for (const reading of [shake, rollingShutter, softness]) expect(reading.state).to.equal('notMeasurable');
    expect(shake.reason).to.contain('detail');
    expect(softness.reason).to.contain('edges');
  });

  it('says that a read-out cannot show where the camera stands still', () => {
    const { rollingShutter } = measureDrawn(
      facts(320, 192, 26),
      (x, y, f) => Math.round(120 + 9 * waves.at(x, y) + 2 * hash(x, y, f)),
      { only: ['rollingShutter'] },
    ).readings;
    expect(rollingShutter.reason).to.contain('stands still');
  });

  it('is less sure of a short clip than of a long one', () => {
    const shaken: Luma = (x, y, f) =>
      Math.round(120 + 9 * waves.at(x + 2 * Math.sin(f), y + Math.cos(1.7 * f)));
    const [short, long] = [14, 60].map(
      (n) => measureDrawn(facts(320, 192, n), shaken, { only: ['shake'] }).readings.shake,
    );
    expect(short.state).to.equal('measured');
    expect(short.confidence).to.be.lessThan(long.confidence);
  });

  it('measures between an in and an out point as if the clip were no longer, and says where in the clip it is', () => {
    const luma: Luma = (x, y, f) =>
      Math.round(120 + 9 * waves.at(x + 2 * Math.sin(f), y) + 6 * hash(x, y, f));
    const range = { startFrame: 12, endFrame: 41 };
    const part = measureDrawn(facts(192, 128, 60), luma, { overrides: { range }, only: ['noise', 'shake'] });
    const alone = measureDrawn(facts(192, 128, 30), (x, y, f) => luma(x, y, f + 12), { only: ['noise'] });
    expect(part.clip.frames).to.equal(60);
    expect(part.shots).to.deep.equal([range]);
    expect(part.readings.noise.values).to.deep.equal(alone.readings.noise.values);
    const jitter = (part.readings.shake.series as { jitterX: (number | null)[] }).jitterX;
    expect(jitter).to.have.length(60);
    expect(jitter[11]).to.equal(null);
    expect(jitter[12]).to.not.equal(null);
  });

  it('takes a camera for locked off when the technician says so', () => {
    const drifting: Luma = (x, y, f) => Math.round(120 + 9 * waves.at(x + 0.2 * f, y));
    const read = (intent?: 'locked-off') => {
      const { shake } = measureDrawn(facts(320, 192, 60), drifting, {
        overrides: intent ? { intent } : {},
        only: ['shake'],
      }).readings;
      if (shake.state !== 'measured') throw new Error(shake.reason);
      return shake.values;
    };
    expect(read().jitterRmsPx).to.be.lessThan(0.3);
    const lockedOff = read('locked-off');
    expect(lockedOff).to.include({ camera: 'locked-off' });
    expect(lockedOff.jitterRmsPx).to.be.closeTo((0.2 * 60) / Math.sqrt(12), 0.3);
  });

  it('leaves out what is masked: a lamp that blinks in a corner', () => {
    const blinking: Luma = (x, y, f) =>
      Math.round((x < 200 ? (f % 6 < 3 ? 1.2 : 1) : 1) * (90 + 6 * waves.at(x, y)));
    const depth = (masks: NonNullable<Overrides['masks']>): number => {
      const { flicker } = measureDrawn(facts(320, 192, 48), blinking, {
        overrides: { masks },
        only: ['flicker'],
      }).readings;
      return flicker.state === 'measured' ? flicker.values.depthPct : NaN;
    };
    const lamp = { shape: { kind: 'rectangle' as const, x: 0, y: 0, width: 204, height: 192 } };
    expect(depth([])).to.be.greaterThan(3);
    expect(depth([lamp])).to.be.lessThan(0.5);
  });

  it('reads noise in the patch that was drawn and nowhere else', () => {
    const uneven: Luma = (x, y, f) =>
      Math.round(120 + (x < 160 ? 3 : 12) * (hash(x, y, f) - 0.5) * Math.sqrt(12));
    const luma = (noisePatch?: Overrides['noisePatch']): number => {
      const { noise } = measureDrawn(facts(320, 192, 12), uneven, {
        overrides: noisePatch ? { noisePatch } : {},
        only: ['noise'],
      }).readings;
      return noise.state === 'measured' ? noise.values.lumaPct : NaN;
    };
    expect(luma({ x: 8, y: 8, width: 128, height: 160 })).to.be.closeTo(300 / 219, 0.15);
    expect(luma({ x: 184, y: 8, width: 128, height: 160 })).to.be.closeTo(1200 / 219, 0.5);
  });

  it('reads noise after a lift as the lift steepens it', () => {
    const grey: Luma = (x, y, f) => Math.round(60 + 4 * (hash(x, y, f) - 0.5) * Math.sqrt(12));
    const { noise } = measureDrawn(facts(320, 192, 12), grey, {
      overrides: { viewing: { kind: 'lift', stops: 2 } },
      only: ['noise'],
    }).readings;
    if (noise.state !== 'measured') throw new Error(noise.reason);
    expect(noise.values.gradedLumaPct! / noise.values.lumaPct).to.be.closeTo(4 ** 0.45, 0.1);
  });

  it('tells the contrast of a speck against what it covers, however fast the camera moves', () => {
    const [size, at, dark] = [6, { x: 160, y: 96 }, -40];
    // The picture brightens to the right and moves by 6 px a frame: the same place a frame before was 12 codes lighter.
    const panned: Luma = (x, y, f) => {
      const scene =
        90 +
        2 * (((x + 6 * f) % 60) - 30 > 0 ? 60 - ((x + 6 * f) % 60) : (x + 6 * f) % 60) +
        5 * waves.at(x + 6 * f, y);
      const covered = f === 12 && Math.abs(x - at.x) < size && Math.abs(y - at.y) < size;
      return Math.round(Math.max(0, scene + (covered ? dark : 0)));
    };
    const { hotPixels } = measureDrawn(facts(320, 192, 26), panned, { only: ['hotPixels'] }).readings;
    const specks = hotPixels.state === 'measured' ? hotPixels.values.specks : null;
    expect(specks?.frames.map((f) => f.frame)).to.deep.equal([12]);
    expect(specks?.frames[0].specks[0].contrastPct).to.be.closeTo((100 * dark) / 219, 4);
  });
});
