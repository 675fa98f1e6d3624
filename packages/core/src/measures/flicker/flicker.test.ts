import { expect } from 'chai';
import { measureClip } from '@bevrin/media';
import { renderStudy, type StudyClip } from '@bevrin/rig';
import type { FlickerValues } from './descriptor.js';

const base = {
  width: 400,
  height: 226,
  frames: 66,
  noisePct: [0.7, 0.7, 0.7],
  codec: 'h264Lossless',
  camera: { handPx: 2 },
} as const;

const flickerOf = async (clip: StudyClip): Promise<FlickerValues> => {
  const { path } = await renderStudy(clip);
  const { flicker } = (await measureClip(path, { only: ['flicker'] })).readings;
  if (flicker.state !== 'measured') throw new Error(flicker.reason);
  return flicker.values;
};

describe('flicker', function () {
  this.timeout(240_000);

  it('names the lamp behind the bars, and shutters that would have been steady', async () => {
    const values = await flickerOf({
      ...base,
      study: 'foliage',
      seed: 33,
      light: { pulseHz: 120, depth: 0.12 },
      shutter: 0.1,
      readout: 0.7,
    });
    expect(values.lampHz.map((l) => l.lightHz)).to.deep.equal([120]);
    expect(values.lampHz[0].steadyShuttersSec[0]).to.be.closeTo(4 / 120, 1e-6);
  });

  it('finds a cut', async () => {
    const { path } = await renderStudy({
      ...base,
      study: 'wall',
      seed: 41,
      cutTo: { study: 'night', atFrame: 40 },
    });
    const { shots } = await measureClip(path, { only: ['flicker'] });
    expect(shots.map((s) => s.startFrame)).to.deep.equal([0, 40]);
  });

  it('is judged where a slow ramp takes most of the shot, and the ramp is told', async () => {
    const { path } = await renderStudy({
      ...base,
      study: 'foliage',
      seed: 43,
      light: { changeFromSec: 0.7, changeToSec: 2, changeTo: 1.45 },
    });
    const { flicker } = (await measureClip(path, { only: ['flicker'] })).readings;
    if (flicker.state !== 'measured') throw new Error(flicker.reason);
    expect(flicker.values.pattern).to.equal('none');
    expect(flicker.values.exposureChanges).to.have.length(1);
    expect(flicker.values.exposureChangePct).to.be.within(30, 55);
  });

  it('says why a short clip shows no rhythm', async () => {
    const { path } = await renderStudy({ ...base, frames: 8, study: 'wall', seed: 42 });
    const { flicker } = (await measureClip(path, { only: ['flicker'] })).readings;
    expect(flicker.state).to.equal('notMeasurable');
    expect(flicker.reason).to.contain('8 frames');
  });
});
