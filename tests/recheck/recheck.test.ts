import { expect } from 'chai';
import type { DeliverySpec, Measurement, Recheck, RecheckVerdict, Step } from '@bevrin/contract';
import { measureClip, recheckClips } from '@bevrin/media';
import { scatterFaults, type StudyClip } from '@bevrin/rig';
import { findSpec } from '@bevrin/specs';
import { judging } from '../accuracy/seeds.js';
import { shareOf } from '../support/share.js';
import { Bench, drawn } from './pairs.js';

const base: StudyClip = {
  study: 'wall',
  width: 320,
  height: 180,
  frames: 40,
  camera: { panPx: 18 },
  shutter: 0.2,
  noisePct: [0.4, 0.4, 0.4],
  codec: 'h264Lossless',
  seed: 0,
};
const clip = (seed: number, more: Partial<StudyClip> = {}): StudyClip => ({
  ...base,
  seed: judging(seed),
  ...more,
});
const WALKER = { study: 'foliage', camera: {}, subject: { tall: 0.7, pxPerSec: 110 } } as const;
const NOISE: [number, number, number] = [3, 3, 3];
const AVERAGED = { framesEachSide: 3, lumaStrengthPct: 9, chromaStrengthPct: 8, spatialStrengthPct: 20 };

const ORIGINALS = {
  clean: clip(2101),
  walker: clip(2102, WALKER),
  noisy: clip(2103, { noisePct: NOISE }),
  noisyWalker: clip(2104, { ...WALKER, noisePct: NOISE }),
  noisyStill: clip(2105, { camera: {}, noisePct: NOISE }),
  shaky: clip(2106, { camera: { handPx: 5, handDeg: 0.2 }, frames: 50 }),
  shakyPan: clip(2107, { study: 'foliage', camera: { panPx: 30, handPx: 4 }, frames: 50 }),
  flickering: clip(2108, { light: { pulseHz: 4.3, depth: 0.15 } }),
  faulty: clip(2109, { faults: scatterFaults(8, 320, 180, judging(71), 0.7) }),
  other: clip(2110, { study: 'bricks' }),
  rolling: clip(2111, { readout: 0.9, camera: { handPx: 5 } }),
} satisfies Record<string, StudyClip>;
type Original = keyof typeof ORIGINALS;

interface Pair {
  readonly of: Original;
  readonly make: (bench: Bench, path: string) => Promise<string> | string;
  /** The steps that were to be done; those that are proposed where they are not said. */
  readonly steps?: readonly Pick<Step, 'treatment' | 'defect' | 'expect'>[];
  readonly verdict: RecheckVerdict;
  /** What one of the reasons says. */
  readonly says?: RegExp;
  readonly at?: { offset?: number; scale?: number; cropPct?: number; steadied?: boolean };
}

const ffmpeg =
  (filter: string, ...more: string[]): Pair['make'] =>
  (bench, path) =>
    bench.filtered(path, filter, ...more);
const treat =
  (treatment: Step['treatment'], settings: Step['settings'], then?: string): Pair['make'] =>
  async (bench, path) => {
    const treated = await bench.treated(path, treatment, settings);
    return then === undefined ? treated : bench.filtered(treated, then);
  };
const cut = (from: number, to: number): string =>
  `trim=start_frame=${from}:end_frame=${to},setpts=PTS-STARTPTS`;

/** Pairs that every run checks; of them some come in, and some must go back. */
const CHECKED = 2;

const PAIRS: Record<string, Pair> = {
  'an untouched copy': {
    of: 'clean',
    make: ffmpeg('null'),
    verdict: 'accepted',
    at: { offset: 0, scale: 1, cropPct: 0, steadied: false },
  },
  'noise averaged': {
    of: 'noisy',
    make: treat('reduceNoise', AVERAGED),
    verdict: 'accepted',
    says: /Noise went from/,
    at: { offset: 0, scale: 1 },
  },
  'noise averaged behind a walker': {
    of: 'noisyWalker',
    make: treat('reduceNoise', AVERAGED),
    verdict: 'accepted',
    at: { offset: 0 },
  },
  'noise averaged, a part of it': {
    of: 'noisyStill',
    make: treat('reduceNoise', AVERAGED, cut(6, 34)),
    verdict: 'acceptedWithRemarks',
    says: /the first 6 frames/,
    at: { offset: 6 },
  },
  'noise averaged, at more bits': {
    of: 'noisy',
    make: treat('reduceNoise', AVERAGED, 'format=yuv420p10le'),
    verdict: 'accepted',
    at: { offset: 0, scale: 1 },
  },
  'flicker taken out': {
    of: 'flickering',
    make: treat('deflicker', { framesEachSide: 6 }),
    verdict: 'accepted',
    says: /Flicker went from/,
    at: { offset: 0 },
  },
  'a hand steadied': {
    of: 'shaky',
    make: treat('stabilise', { smoothingFrames: 25, motionModel: 'position and rotation', cropPct: 12 }),
    verdict: 'accepted',
    says: /Shake went from/,
    at: { offset: 0, steadied: true },
  },
  'a hand steadied over a pan': {
    of: 'shakyPan',
    make: treat('stabilise', { smoothingFrames: 25, cropPct: 12 }),
    verdict: 'accepted',
    at: { offset: 0, steadied: true },
  },
  'rows set straight': {
    of: 'rolling',
    make: treat('straightenRows', { readoutPctOfFrame: 90 }),
    steps: [
      {
        treatment: 'straightenRows',
        defect: 'rollingShutter',
        expect: { reading: 'wobblePct', unit: '%', from: 0.2, to: 0.02 },
      },
    ],
    verdict: 'acceptedWithRemarks',
    says: /Shake fails as it did/,
    at: { offset: 0 },
  },
  'a part of a pan': {
    of: 'clean',
    make: ffmpeg(cut(11, 36)),
    verdict: 'acceptedWithRemarks',
    says: /the last 4 frames/,
    at: { offset: 11, scale: 1 },
  },
  'a part with a walker': {
    of: 'walker',
    make: ffmpeg(cut(5, 40)),
    verdict: 'acceptedWithRemarks',
    at: { offset: 5 },
  },
  'a little crop': {
    of: 'clean',
    make: ffmpeg('crop=304:171:8:4:exact=1,scale=320:180:flags=lanczos'),
    verdict: 'accepted',
    at: { offset: 0, scale: 320 / 304, cropPct: 5, steadied: false },
  },
  'a crop off the middle': {
    of: 'walker',
    make: ffmpeg('crop=288:162:20:10:exact=1,scale=320:180:flags=lanczos'),
    verdict: 'accepted',
    at: { offset: 0, scale: 320 / 288, cropPct: 10 },
  },
  'detail smeared away': {
    of: 'noisy',
    make: ffmpeg('gblur=sigma=1.6'),
    verdict: 'sendBack',
    says: /Fine detail is gone/,
    at: { offset: 0, scale: 1 },
  },
  'ghosts behind a walker': {
    of: 'noisyWalker',
    make: ffmpeg('tmix=frames=7'),
    verdict: 'sendBack',
    says: /Ghosts/,
  },
  'bent lines': {
    of: 'clean',
    make: ffmpeg('lenscorrection=k1=-0.14:k2=0.1:i=bilinear'),
    verdict: 'sendBack',
    says: /Lines are bent/,
  },
  halos: {
    of: 'clean',
    make: ffmpeg('unsharp=5:5:2.5'),
    verdict: 'sendBack',
    says: /Halos stand beside edges/,
    at: { offset: 0 },
  },
  'another colour': {
    of: 'clean',
    make: ffmpeg("lutyuv=u='val+5':v='val-3'"),
    verdict: 'sendBack',
    says: /The colour changed: Cb/,
    at: { offset: 0 },
  },
  'another brightness': {
    of: 'clean',
    make: ffmpeg("lutyuv=y='val*1.06'"),
    verdict: 'sendBack',
    says: /The brightness changed/,
    at: { offset: 0 },
  },
  'a frame missing in a pan': {
    of: 'clean',
    make: ffmpeg("select='not(eq(n,22))',setpts=N/25/TB"),
    verdict: 'sendBack',
    says: /A frame is missing, before frame 22/,
    at: { offset: 0 },
  },
  'a frame missing behind a walker': {
    of: 'walker',
    make: ffmpeg("select='not(eq(n,17))',setpts=N/25/TB"),
    verdict: 'sendBack',
    says: /A frame is missing, before frame 17/,
  },
  'a frame shown twice': {
    of: 'clean',
    make: ffmpeg('loop=loop=1:size=1:start=20,setpts=N/25/TB'),
    verdict: 'sendBack',
    says: /A frame is shown again, before frame 2[01]/,
  },
  'one soft second': {
    of: 'clean',
    make: ffmpeg("gblur=sigma=1.5:enable='between(n,14,26)'"),
    verdict: 'sendBack',
    says: /It is soft about frame (1[4-9]|2[0-6])/,
  },
  'another clip': {
    of: 'clean',
    make: (_bench) => drawn(ORIGINALS.other),
    verdict: 'sendBack',
    says: /does not look like the original from any frame on/,
  },
  'the wrong tag of the range': {
    of: 'clean',
    make: ffmpeg('setparams=range=pc', '-color_range', 'pc'),
    verdict: 'sendBack',
    says: /tag says full range/,
  },
  'another rate': {
    of: 'clean',
    make: ffmpeg('fps=30'),
    verdict: 'sendBack',
    says: /30 frames a second, the original at 25/,
  },
  'nothing done': {
    of: 'noisy',
    make: ffmpeg('null'),
    verdict: 'sendBack',
    says: /Noise is still/,
    at: { offset: 0 },
  },
  'too much cropped': {
    of: 'clean',
    make: ffmpeg('crop=224:126:exact=1,scale=320:180:flags=lanczos'),
    verdict: 'sendBack',
    says: /30.* % of the picture are gone/,
    at: { offset: 0, scale: 320 / 224, cropPct: 30 },
  },
};

describe('a repaired file', function () {
  this.timeout(120_000);
  let bench: Bench;
  let spec: DeliverySpec;
  const measured = new Map<Original, Promise<Measurement>>();
  const paths = new Map<Original, Promise<string>>();
  before(async () => {
    bench = await Bench.open();
    const house = await findSpec('broadcast-hd');
    // Small pictures fit a test: what the delivery asks of the size is not at issue.
    spec = { ...house, requires: {} };
  });
  after(() => bench.close());

  const pathOf = (of: Original): Promise<string> => {
    paths.set(of, paths.get(of) ?? drawn(ORIGINALS[of]));
    return paths.get(of)!;
  };
  const rechecked = async ({ of, make, steps }: Pair): Promise<Recheck> => {
    const path = await pathOf(of);
    measured.set(of, measured.get(of) ?? measureClip(path));
    const repaired = await make(bench, path);
    return (await recheckClips(path, repaired, { spec, steps, measured: await measured.get(of) })).recheck;
  };

  for (const [name, pair] of shareOf(Object.entries(PAIRS), CHECKED))
    it(`${name}: ${pair.verdict}`, async () => {
      const { verdict, because, alignment } = await rechecked(pair);
      const why = because.join(' | ');
      expect(verdict, why).to.equal(pair.verdict);
      if (pair.says) expect(why).to.match(pair.says);
      const { offset, scale, cropPct, steadied } = pair.at ?? {};
      if (offset !== undefined) expect(alignment?.frameOffset).to.equal(offset);
      if (scale !== undefined) expect(alignment?.scale).to.be.closeTo(scale, 0.002 * scale);
      if (cropPct !== undefined) expect(alignment?.cropPct).to.be.closeTo(cropPct, 0.2);
      if (steadied !== undefined) expect(alignment?.steadied).to.equal(steadied);
    });
});
