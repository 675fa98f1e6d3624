import { expect } from 'chai';
import type { HotPixelValues } from '../descriptor.js';
import { measureClip } from '@bevrin/media';
import { renderStudy, scatterFaults, type StudyClip } from '@bevrin/rig';

const base = { width: 560, height: 316, frames: 24, codec: 'h264Lossless' } as const;
/** A codec and chroma subsampling smear a fault over a few pixels. */
const SAME_PLACE = 2;
const COUNT = 24;

const hotOf = async (clip: StudyClip): Promise<HotPixelValues & { confidence: number }> => {
  const { path } = await renderStudy(clip);
  const { hotPixels } = (await measureClip(path, { only: ['hotPixels'] })).readings;
  if (hotPixels.state !== 'measured') throw new Error(hotPixels.reason);
  return { ...hotPixels.values, confidence: hotPixels.confidence };
};

const near = (a: { x: number; y: number }, b: { x: number; y: number }): boolean =>
  Math.abs(a.x - b.x) <= SAME_PLACE && Math.abs(a.y - b.y) <= SAME_PLACE;

const BY_HAND: StudyClip = {
  ...base,
  faults: scatterFaults(COUNT, 560, 316, 51),
  study: 'foliage',
  seed: 51,
  camera: { handPx: 3 },
  noisePct: [1, 1, 1],
};
const LOCKED_OFF: StudyClip = {
  ...base,
  faults: scatterFaults(COUNT, 560, 316, 54),
  study: 'wall',
  seed: 54,
  noisePct: [1, 1, 1],
};

describe('hot pixels', function () {
  this.timeout(240_000);

  it('names kind and channel', async () => {
    const { pixels } = await hotOf(BY_HAND);
    const faults = BY_HAND.faults ?? [];
    const named = faults.filter((t) => pixels.some((f) => near(f, t) && f.kind === t.kind)).length;
    expect(named / COUNT).to.be.at.least(0.75);
    const coloured = faults.filter((t) => t.channel !== 'luma' && t.kind === 'hot');
    const right = coloured.filter((t) => pixels.some((f) => near(f, t) && f.channel === t.channel)).length;
    expect(right / coloured.length).to.be.at.least(0.75);
  });

  it('is less sure where nothing moves', async () => {
    const moving = await hotOf(BY_HAND);
    const still = await hotOf(LOCKED_OFF);
    expect(still.confidence).to.be.lessThan(moving.confidence);
  });
});
