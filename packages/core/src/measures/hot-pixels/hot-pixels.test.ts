import { expect } from 'chai';
import type { HotPixelValues } from '@bevrin/contract';
import { measureClip } from '@bevrin/media';
import { renderStudy, scatterFaults, type SensorFault, type StudyClip } from '@bevrin/rig';

const base = { width: 560, height: 316, frames: 24, codec: 'h264Lossless' } as const;
const tenBit = { format: { bitDepth: 10, chroma: '422' }, codec: 'ffv1' } as const;
/** A codec and chroma subsampling smear a fault over a few pixels. */
const SAME_PLACE = 2;
const COUNT = 24;

const hotOf = async (clip: StudyClip): Promise<HotPixelValues & { confidence: number }> => {
  const { path } = await renderStudy(clip);
  const { hotPixels } = (await measureClip(path)).readings;
  if (hotPixels.state !== 'measured') throw new Error(hotPixels.reason);
  return { ...hotPixels.values, confidence: hotPixels.confidence };
};

const near = (a: { x: number; y: number }, b: { x: number; y: number }): boolean =>
  Math.abs(a.x - b.x) <= SAME_PLACE && Math.abs(a.y - b.y) <= SAME_PLACE;

const score = (
  truth: readonly SensorFault[],
  found: HotPixelValues['pixels'],
): { recall: number; precision: number } => ({
  recall: truth.filter((t) => found.some((f) => near(t, f))).length / truth.length,
  precision:
    found.length === 0 ? 1 : found.filter((f) => truth.some((t) => near(t, f))).length / found.length,
});

const faulty: [string, StudyClip][] = [
  [
    'foliage by hand',
    {
      ...base,
      study: 'foliage',
      seed: 51,
      camera: { handPx: 3 },
      noisePct: [1, 1, 1],
      faults: scatterFaults(COUNT, 560, 316, 51),
    },
  ],
  [
    'a panned wall at 10 bits',
    {
      ...base,
      ...tenBit,
      study: 'wall',
      seed: 52,
      camera: { panPx: 50 },
      noisePct: [0.8, 0.8, 0.8],
      faults: scatterFaults(COUNT, 560, 316, 52),
    },
  ],
  [
    'a noisy night',
    {
      ...base,
      study: 'night',
      seed: 53,
      camera: { handPx: 2 },
      noisePct: [1.5, 1.5, 1.5],
      faults: scatterFaults(COUNT, 560, 316, 53),
    },
  ],
  [
    'a locked-off wall',
    { ...base, study: 'wall', seed: 54, noisePct: [1, 1, 1], faults: scatterFaults(COUNT, 560, 316, 54) },
  ],
  [
    'foliage through a camera codec',
    {
      ...base,
      codec: 'h264',
      study: 'foliage',
      seed: 55,
      camera: { handPx: 2 },
      noisePct: [0.8, 0.8, 0.8],
      faults: scatterFaults(COUNT, 560, 316, 55, 0.75),
    },
  ],
];

describe('hot pixels', function () {
  this.timeout(240_000);

  for (const [name, clip] of faulty)
    it(`finds the faults on ${name}: recall and precision of at least 0.9`, async () => {
      const { recall, precision } = score(clip.faults ?? [], (await hotOf(clip)).pixels);
      expect(recall, 'recall').to.be.at.least(0.9);
      expect(precision, 'precision').to.be.at.least(0.9);
    });

  it('names kind and channel', async () => {
    const clip = faulty[0][1];
    const { pixels } = await hotOf(clip);
    const named = (clip.faults ?? []).filter((t) =>
      pixels.some((f) => near(f, t) && f.kind === t.kind),
    ).length;
    expect(named / COUNT).to.be.at.least(0.75);
    const coloured = (clip.faults ?? []).filter((t) => t.channel !== 'luma' && t.kind === 'hot');
    const right = coloured.filter((t) => pixels.some((f) => near(f, t) && f.channel === t.channel)).length;
    expect(right / coloured.length).to.be.at.least(0.75);
  });

  const clean: [string, StudyClip][] = [
    [
      'foliage by hand',
      { ...base, study: 'foliage', seed: 61, camera: { handPx: 3, handDeg: 0.2 }, noisePct: [1, 1, 1] },
    ],
    ['a locked-off noisy wall', { ...base, study: 'wall', seed: 62, noisePct: [1, 1, 1] }],
    [
      'a locked-off wall under bars of light',
      {
        ...base,
        study: 'wall',
        seed: 63,
        noisePct: [0.7, 0.7, 0.7],
        light: { pulseHz: 120, depth: 0.12 },
        shutter: 0.1,
        readout: 0.7,
      },
    ],
    [
      'a sensor with a fixed pattern',
      { ...base, study: 'wall', seed: 65, camera: { panPx: 60 }, noisePct: [1, 1, 1], fixedPatternPct: 0.5 },
    ],
    ['a held picture without noise', { ...base, study: 'foliage', seed: 66 }],
    [
      'lamps at night that move with the scene',
      { ...base, study: 'night', seed: 64, camera: { handPx: 2 }, noisePct: [2, 2, 2] },
    ],
  ];
  for (const [name, clip] of clean)
    it(`finds none on ${name}`, async () => {
      expect((await hotOf(clip)).pixels).to.deep.equal([]);
    });

  it('is less sure where nothing moves', async () => {
    const moving = await hotOf(faulty[0][1]);
    const still = await hotOf(faulty[3][1]);
    expect(still.confidence).to.be.lessThan(moving.confidence);
  });
});
