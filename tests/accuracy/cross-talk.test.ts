import { expect } from 'chai';
import { DEFECTS, type Defect } from '@bevrin/contract';
import { findingsOf, verdictOf } from '@bevrin/core';
import { measureClip } from '@bevrin/media';
import { shippedSpecs } from '@bevrin/specs';
import { renderStudy, scatterFaults, type StudyClip } from '@bevrin/rig';
import { shareOf } from '../support/share.js';

const SIZE = { width: 480, height: 270 };
const base = (study: StudyClip['study'], seed: number): StudyClip => ({
  ...SIZE,
  study,
  seed,
  frames: 48,
  camera: { handPx: 0.3, handDeg: 0.01 },
  shutter: 0.3,
  noisePct: [0.4, 0.4, 0.4],
  codec: 'h264Lossless',
});
/** Enough for what does not need time to show. */
const FEW_FRAMES = 24;
const SCENES = [base('wall', 901), base('foliage', 902), base('night', 903)];

/** Each defect alone, at a level that fails. What read-out does shows only with movement, so it comes with shake. */
const PUT_IN: Partial<Record<Exclude<Defect, 'rollingShutter'>, (clip: StudyClip) => StudyClip>> = {
  shake: (c) => ({ ...c, camera: { handPx: 6, handDeg: 0.2 }, shutter: 0.1 }),
  noise: (c) => ({ ...c, frames: FEW_FRAMES, noisePct: [4, 4, 4] }),
  flicker: (c) => ({ ...c, light: { pulseHz: 4.3, depth: 0.12 } }),
  hotPixels: (c) => ({
    ...c,
    frames: FEW_FRAMES,
    camera: { handPx: 1, handDeg: 0.02 },
    faults: scatterFaults(14, 480, 270, 77, 0.6),
  }),
  // Steps need a plain ground: they are put under a sky, whose noise would otherwise hide them.
  banding: (c) => ({ ...c, frames: FEW_FRAMES, study: 'dusk', noisePct: [0.05, 0.05, 0.05], signalBits: 6 }),
  moire: (c) => ({
    ...c,
    study: 'cloth',
    frames: FEW_FRAMES,
    width: 640,
    height: 360,
    camera: { handPx: 1.8, handDeg: 0.02 },
    aperture: 0.3,
    lensSigmaPx: 0.4,
    cloth: { cyclesPerPx: c.seed % 2 ? 0.94 : 0.86 },
  }),
  softness: (c) => ({ ...c, frames: FEW_FRAMES, lensSigmaPx: 3.4 }),
};

/**
 * What is physically linked. A sensor that samples points, as it must to alias, also catches grit and glints smaller than
 * a pixel in single pixels: a few of them can look like faults of the sensor.
 */
const LINKED: Partial<Record<Defect, readonly Defect[]>> = { moire: ['hotPixels'] };

describe('cross-talk', function () {
  this.timeout(900_000);

  it('fails each defect on its own measure and on no other, and clean clips on none', async () => {
    const spec = (await shippedSpecs()).get('broadcast-hd')!;
    const rows: string[] = [];
    const wrong: string[] = [];
    const row = async (name: string, clip: StudyClip, own: Defect | null): Promise<void> => {
      const measurement = await measureClip((await renderStudy(clip)).path);
      const findings = findingsOf(measurement, spec);
      const failing = new Set(findings.filter((f) => f.verdict === 'fail').map((f) => f.defect));
      rows.push(
        `${name.padEnd(22)}${DEFECTS.map((d) => (failing.has(d) ? 'FAIL' : '·').padStart(9)).join('')}`,
      );
      for (const d of DEFECTS)
        if (failing.has(d) !== (d === own) && !(own && LINKED[own]?.includes(d)))
          wrong.push(`${name}: ${d} ${failing.has(d) ? 'fails' : 'does not fail'}`);
    };
    // Without a defect more is shown below.
    for (const clip of shareOf(SCENES, 1)) await row(`clean ${clip.study}`, clip, null);
    const pairs = SCENES.flatMap((clip) =>
      Object.entries(PUT_IN).map(([defect, put]) => ({
        defect: defect as Defect,
        clip: put(clip),
        name: clip.study,
      })),
    );
    // Each defect once, the scenes in turn.
    for (const { defect, clip, name } of shareOf(pairs, Object.keys(PUT_IN).length))
      await row(`${defect}, ${name}`, clip, defect);
    console.log(
      [`${' '.repeat(22)}${DEFECTS.map((d) => d.slice(0, 8).padStart(9)).join('')}`, ...rows]
        .map((r) => `      ${r}`)
        .join('\n'),
    );
    expect(wrong, wrong.join('; ')).to.be.empty;
  });

  it('tells where frames were lost in a pan, and where one is shown twice', async () => {
    const pan = { ...SCENES[1], seed: 917, camera: { panPx: 60 }, dropBefore: [15, 33] };
    const { clip } = await measureClip((await renderStudy(pan)).path, { only: ['shake'] });
    expect(clip.lostBefore).to.deep.equal([15, 33]);
    const stutter = { ...SCENES[1], seed: 918, camera: { panPx: 60 }, repeatEvery: 8 };
    const again = (await measureClip((await renderStudy(stutter)).path, { only: ['shake'] })).clip;
    expect(again.duplicateFrames).to.equal(6);
    expect(again.repeatEvery).to.equal(8);
  });

  const tempting: [string, StudyClip][] = [
    ['a fade to black', { ...SCENES[0], seed: 911, light: { fadeFromSec: 0.9, fadeToSec: 1.8 } }],
    ['somebody who walks through', { ...SCENES[0], seed: 912, subject: { tall: 1, pxPerSec: 200 } }],
    [
      'cloth that the lens resolves',
      { ...SCENES[0], seed: 913, study: 'cloth', cloth: { cyclesPerPx: 0.2 } },
    ],
    [
      'a stream behind a post, the camera held',
      { ...SCENES[0], seed: 921, study: 'stream', camera: {}, width: 640, height: 360 },
    ],
    [
      'a face close by that sways, by hand',
      {
        ...SCENES[0],
        seed: 922,
        study: 'close-up',
        camera: { handPx: 0.7, handDeg: 0.02 },
        width: 640,
        height: 360,
      },
    ],
    [
      'posts before open ground, in a pan',
      { ...SCENES[0], seed: 920, study: 'shore', camera: { panPx: 26 } },
    ],
    ['clouds alone', { ...SCENES[0], seed: 919, study: 'clouds' }],
    ['black bars', { ...SCENES[1], seed: 914, barRows: 34 }],
    ['an even pan', { ...SCENES[1], seed: 915, camera: { panPx: 40 } }],
    ['a cut', { ...SCENES[0], seed: 916, cutTo: { study: 'night', atFrame: 25 } }],
    ['a dissolve', { ...SCENES[0], seed: 923, cutTo: { study: 'shore', atFrame: 18, dissolve: 12 } }],
  ];
  for (const [name, clip] of shareOf(tempting, 1))
    it(`fails no shipped delivery on ${name}`, async () => {
      const measurement = await measureClip((await renderStudy(clip)).path);
      for (const spec of (await shippedSpecs()).values()) {
        const findings = findingsOf(measurement, spec).filter((f) => f.verdict === 'fail');
        expect(
          findings.map((f) => f.because),
          spec.name,
        ).to.be.empty;
        expect(verdictOf(findings)).to.equal('pass');
      }
    });
});
