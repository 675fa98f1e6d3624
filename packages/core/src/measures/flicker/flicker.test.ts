import { expect } from 'chai';
import { measureClip } from '@bevrin/media';
import { renderStudy, studyRecipe, exposedLight, type StudyClip } from '@bevrin/rig';
import type { FlickerValues } from '@bevrin/contract';

const base = {
  width: 400,
  height: 226,
  frames: 66,
  noisePct: [0.7, 0.7, 0.7],
  codec: 'h264Lossless',
} as const;
const tenBit = { format: { bitDepth: 10, chroma: '422' }, codec: 'ffv1' } as const;

const flickerOf = async (clip: StudyClip): Promise<FlickerValues> => {
  const { path } = await renderStudy(clip);
  const { flicker } = (await measureClip(path)).readings;
  if (flicker.state !== 'measured') throw new Error(flicker.reason);
  return flicker.values;
};

/** What is left of a lamp's swing after an exposure. */
const exposedDepthPct = (clip: StudyClip): number => {
  const { light, shutter } = studyRecipe({ ...clip, width: 16, height: 16 });
  const seconds = shutter / 25;
  const seen = Array.from({ length: 4000 }, (_, i) => exposedLight(light, i / 7919, seconds));
  return (100 * (Math.max(...seen) - Math.min(...seen))) / 2;
};

describe('flicker', function () {
  this.timeout(240_000);

  const regular: [string, StudyClip, { frequencyHz: number; pattern: string; barsPerFrame?: number }][] = [
    [
      'a slow pump over a hand-held wall',
      { ...base, study: 'wall', seed: 31, camera: { handPx: 2 }, light: { pulseHz: 3.3, depth: 0.06 } },
      { frequencyHz: 3.3, pattern: 'whole-frame' },
    ],
    [
      'a strong pump over foliage at 10 bits',
      {
        ...base,
        ...tenBit,
        study: 'foliage',
        seed: 32,
        camera: { handPx: 2 },
        light: { pulseHz: 6.1, depth: 0.2 },
        shutter: 0.2,
      },
      { frequencyHz: 6.1, pattern: 'whole-frame' },
    ],
    [
      'bars of 120 Hz lamps over foliage',
      {
        ...base,
        study: 'foliage',
        seed: 33,
        camera: { handPx: 2 },
        light: { pulseHz: 120, depth: 0.12 },
        shutter: 0.1,
        readout: 0.7,
      },
      { frequencyHz: 5, pattern: 'rolling-bars', barsPerFrame: 3.36 },
    ],
    [
      'bars over a locked-off wall at 10 bits',
      {
        ...base,
        ...tenBit,
        study: 'wall',
        seed: 34,
        light: { pulseHz: 97, depth: 0.08 },
        shutter: 0.1,
        readout: 0.5,
      },
      { frequencyHz: 3, pattern: 'rolling-bars', barsPerFrame: 1.94 },
    ],
  ];
  for (const [name, clip, truth] of regular)
    it(`reads ${name}: depth within 15 %, frequency within 0.2 Hz, the right pattern`, async () => {
      const values = await flickerOf(clip);
      const depth = exposedDepthPct(clip);
      expect(values.pattern).to.equal(truth.pattern);
      expect(values.depthPct).to.be.closeTo(depth, 0.15 * depth);
      expect(values.frequencyHz).to.be.closeTo(truth.frequencyHz, 0.2);
      if (truth.barsPerFrame) expect(values.barsPerFrame).to.be.closeTo(truth.barsPerFrame, 0.15);
    });

  it('names the lamp behind the bars, and shutters that would have been steady', async () => {
    const values = await flickerOf(regular[2][1]);
    expect(values.lampHz.map((l) => l.lightHz)).to.deep.equal([120]);
    expect(values.lampHz[0].steadyShuttersSec[0]).to.be.closeTo(4 / 120, 1e-6);
  });

  it('reads light that jumps without a rhythm by its RMS', async () => {
    const clip: StudyClip = {
      ...base,
      study: 'wall',
      seed: 35,
      camera: { handPx: 2 },
      light: { unsteady: 0.04 },
    };
    const values = await flickerOf(clip);
    const { light } = studyRecipe({ ...clip, width: 16, height: 16 });
    const levels = Array.from({ length: clip.frames }, (_, f) => light(f / 25));
    const mean = levels.reduce((s, v) => s + v, 0) / levels.length;
    const rms = 100 * Math.sqrt(levels.reduce((s, v) => s + (v / mean - 1) ** 2, 0) / levels.length);
    expect(values.pattern).to.equal('irregular');
    expect(values.frequencyHz).to.equal(null);
    expect(values.rmsPct).to.be.closeTo(rms, 0.15 * rms);
    expect(values.depthPct).to.be.closeTo(Math.SQRT2 * values.rmsPct, 1e-3);
  });

  const steady: [string, StudyClip][] = [
    [
      'a hand-held shot of foliage',
      { ...base, study: 'foliage', seed: 36, camera: { handPx: 3, handDeg: 0.2 } },
    ],
    [
      'somebody large who walks through',
      { ...base, study: 'wall', seed: 37, camera: { handPx: 2 }, subject: { tall: 1.2, pxPerSec: 240 } },
    ],
    [
      'a fade to black',
      {
        ...base,
        study: 'wall',
        seed: 38,
        camera: { handPx: 2 },
        light: { fadeFromSec: 1.5, fadeToSec: 2.5 },
      },
    ],
    ['a flash', { ...base, study: 'wall', seed: 39, camera: { handPx: 2 }, light: { flashAtSec: 1.4 } }],
    ['a pan', { ...base, study: 'wall', seed: 40, camera: { panPx: 60 } }],
  ];
  for (const [name, clip] of steady)
    it(`does not take ${name} for flicker`, async () => {
      expect((await flickerOf(clip)).depthPct).to.be.lessThan(0.6);
    });

  it('does not take a cut for flicker, and finds the cut', async () => {
    const { path } = await renderStudy({
      ...base,
      study: 'wall',
      seed: 41,
      camera: { handPx: 2 },
      cutTo: { study: 'night', atFrame: 40 },
    });
    const { shots, readings } = await measureClip(path);
    expect(shots.map((s) => s.startFrame)).to.deep.equal([0, 40]);
    expect(readings.flicker.state === 'measured' && readings.flicker.values.depthPct).to.be.lessThan(0.8);
  });

  it('says why a short clip shows no rhythm', async () => {
    const { path } = await renderStudy({ ...base, frames: 8, study: 'wall', seed: 42 });
    const { flicker } = (await measureClip(path)).readings;
    expect(flicker.state).to.equal('notMeasurable');
    expect(flicker.reason).to.contain('8 frames');
  });
});
