import { expect } from 'chai';
import { DEFECTS, Measurement, type ClipFacts } from '@bevrin/contract';
import { beginMeasurement } from './engine.js';
import { burstOf } from './picture/frame.js';
import { WavePicture } from '../../../tests/support/wave-picture.js';

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

/** Feeds a measurement with a drawn picture, as a decoder would. */
const measureDrawn = (clip: ClipFacts, luma: Luma, really = clip.frames): Measurement => {
  const measurement = beginMeasurement(clip);
  const { small } = measurement.plan;
  const [cw, ch] = [Math.ceil(clip.width / 2), Math.ceil(clip.height / 2)];
  for (let f = 0; f < really; f++) {
    const full = Uint8Array.from({ length: clip.width * clip.height }, (_, i) =>
      luma(i % clip.width, Math.floor(i / clip.width), f),
    );
    const [kx, ky] = [clip.width / small.width, clip.height / small.height];
    const reduced = Uint16Array.from(
      { length: small.width * small.height },
      (_, i) =>
        256 *
        full[
          Math.floor((Math.floor(i / small.width) + 0.5) * ky) * clip.width +
            Math.floor(((i % small.width) + 0.5) * kx)
        ],
    );
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
const waves = new WavePicture(5);

describe('the engine', function () {
  this.timeout(60_000);

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
      expect(JSON.stringify(result)).not.to.match(/NaN|Infinity/);
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
    expect(measureDrawn(facts(64, 64, 40), () => 90, 31).clip.frames).to.equal(31);
  });

  it('says of what is not built that it is not built', () => {
    const { readings } = measureDrawn(facts(64, 64, 20), () => 90);
    for (const defect of ['shake', 'rollingShutter', 'banding', 'moire', 'softness'] as const)
      expect(readings[defect]).to.include({ state: 'notMeasurable', reason: 'not built yet' });
  });
});
