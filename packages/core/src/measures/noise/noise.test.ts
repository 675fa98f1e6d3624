import { expect } from 'chai';
import { measureClip } from '@bevrin/media';
import { renderStudy, type StudyClip } from '@bevrin/rig';
import type { NoiseReading } from './noise.js';

const base = { width: 480, height: 270, frames: 18, codec: 'h264Lossless' } as const;
const tenBit = { format: { bitDepth: 10, chroma: '422' }, codec: 'ffv1' } as const;

const CLIPS: Record<string, StudyClip> = {
  'fine 0.75 % noise over hand-held foliage': {
    ...base,
    study: 'foliage',
    seed: 11,
    camera: { handPx: 3, handDeg: 0.2 },
    noisePct: [1, 1, 1],
  },
  'noise of 0.4 % on a panned wall': {
    ...base,
    study: 'wall',
    seed: 14,
    camera: { panPx: 40 },
    noisePct: [0.5, 0.5, 0.5],
  },
  'a blue channel worse than the others': {
    ...base,
    study: 'wall',
    seed: 15,
    camera: { handPx: 2 },
    noisePct: [1, 0.7, 3],
  },
  'clumped grain at 10 bits': {
    ...base,
    ...tenBit,
    study: 'wall',
    seed: 16,
    camera: { handPx: 2, handDeg: 0.2 },
    noisePct: [2, 2, 2],
    grainSigmaPx: 2,
  },
  'noise at night that grows in the shadows, 10 bits': {
    ...base,
    ...tenBit,
    study: 'night',
    seed: 17,
    camera: { handPx: 2 },
    noisePct: [2, 2, 2],
    shadowLift: 0.6,
  },
};

const noiseOf = async (clip: StudyClip): Promise<Extract<NoiseReading, { state: 'measured' }>> => {
  const { path } = await renderStudy(clip);
  const { noise } = (await measureClip(path, { only: ['noise'] })).readings;
  if (noise.state !== 'measured') throw new Error(noise.reason);
  return noise;
};

describe('noise', function () {
  this.timeout(240_000);

  it('names the worst channel and tells fine from coarse grain', async () => {
    expect((await noiseOf(CLIPS['a blue channel worse than the others'])).values.worstChannel).to.equal(
      'blue',
    );
    const fine = (await noiseOf(CLIPS['fine 0.75 % noise over hand-held foliage'])).values;
    const coarse = (await noiseOf(CLIPS['clumped grain at 10 bits'])).values;
    expect(fine.fineShare).to.be.greaterThan(0.6);
    expect(coarse.coarseShare).to.be.greaterThan(0.6);
    expect(fine.fineShare + fine.mediumShare + fine.coarseShare).to.be.closeTo(1, 1e-3);
  });

  it('sees that noise grows towards the shadows', async () => {
    const { values } = await noiseOf(CLIPS['noise at night that grows in the shadows, 10 bits']);
    expect(values.curve[0].sigmaPct).to.be.greaterThan(1.1 * values.curve[values.curve.length - 1].sigmaPct);
    expect(values.shadowSigmaPct).to.be.closeTo(values.lumaPct, 0.2 * values.lumaPct);
  });

  it('is that of the scene, not of somebody large who walks through it and takes up whole levels', async () => {
    const clip: StudyClip = {
      ...base,
      study: 'wall',
      seed: 28,
      camera: { handPx: 2 },
      noisePct: [1.2, 1.2, 1.2],
    };
    const alone = (await noiseOf(clip)).values.lumaPct;
    const passed = (await noiseOf({ ...clip, subject: { tall: 1.2, pxPerSec: 500 } })).values;
    expect(passed.lumaPct).to.be.closeTo(alone, 0.05 * alone);
  });

  it('parts what changes from what stays on the sensor', async () => {
    const { values } = await noiseOf({
      ...base,
      study: 'wall',
      seed: 21,
      camera: { panPx: 60 },
      noisePct: [1, 1, 1],
      fixedPatternPct: 1,
    });
    expect(values.temporalShare).to.be.within(0.2, 0.55);
    expect((await noiseOf(CLIPS['noise of 0.4 % on a panned wall'])).values.temporalShare).to.be.greaterThan(
      0.9,
    );
  });

  it('is not fooled by texture: foliage without noise reads far below every limit', async () => {
    const { values } = await noiseOf({
      ...base,
      study: 'foliage',
      seed: 22,
      camera: { handPx: 3, handDeg: 0.2 },
    });
    expect(values.lumaPct).to.be.lessThan(0.3);
  });

  it('does not claim what a held picture cannot show', async () => {
    const { path } = await renderStudy({ ...base, study: 'wall', seed: 23 });
    const { noise } = (await measureClip(path, { only: ['noise'] })).readings;
    expect(noise.state).to.equal('notMeasurable');
    expect(noise.reason).to.contain('nothing changes');
  });
});
