import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { readingsUnder } from '@bevrin/core';
import { measureClip } from '@bevrin/media';
import { shippedSpecs } from '@bevrin/specs';
import { studyRecipe } from '@bevrin/rig';
import { changesBetween, withLimit } from '../apps/web/src/specs/draft.js';
import { makeLongClip } from './setup/long-clip.js';
import { buildServer } from './setup/server-build.js';

/** Frames that are really drawn; the clip runs through them forth and back. `npm run bench -- uhd` takes a larger picture. */
const UHD = process.argv[2] === 'uhd';
const [WIDTH, HEIGHT] = UHD ? [3840, 2160] : [1920, 1080];
const DRAWN = UHD ? 8 : 25;
const FRAMES = UHD ? 300 : 500;
const ROUNDS = UHD ? 1 : 3;

const seconds = async (work: () => unknown): Promise<number> => {
  const from = performance.now();
  await work();
  return (performance.now() - from) / 1000;
};

// As a house runs it: the reading thread is built.
process.env.BEVRIN_THREADS = await buildServer();
const clip = join('.cache', 'bench', `noisy-${HEIGHT}p25.mp4`);
/** A noisy hand-held clip of 25 frames a second, 20 s of it in 1080 lines, as a camera would store it. */
const recipe = studyRecipe({
  study: 'wall',
  width: WIDTH,
  height: HEIGHT,
  frames: DRAWN,
  camera: { handPx: 4, handDeg: 0.1 },
  noisePct: [1.5, 1.2, 2],
  seed: 71,
});
await makeLongClip(clip, recipe, FRAMES);
const decoding: number[] = [];
const measuring: number[] = [];
let profile: Record<string, number> = {};
for (let round = 0; round < ROUNDS; round++) {
  decoding.push(
    await seconds(() => spawnSync('ffmpeg', ['-nostdin', '-v', 'error', '-i', clip, '-f', 'null', '-'])),
  );
  measuring.push(await seconds(() => measureClip(clip, { profile: (spent) => (profile = spent) })));
  console.log(
    `round ${round + 1}: decoding alone ${decoding[round].toFixed(2)} s, whole measurement ${measuring[round].toFixed(2)} s`,
  );
}
for (const [name, spent] of Object.entries(profile))
  console.log(`  ${name.padEnd(12)}${(spent / 1000).toFixed(2)} s`);
const ratios = decoding.map((alone, round) => measuring[round] / alone).sort((a, b) => a - b);
console.log(
  `whole measurement over decoding alone: ${ratios[ROUNDS >> 1].toFixed(2)} (${ratios[0].toFixed(2)} to ${ratios[ROUNDS - 1].toFixed(2)} over ${ROUNDS} rounds)`,
);

/** A limit that is dragged over the readings of a large batch has to be followed by the page at once. */
const CLIPS = 2000;
const spec = (await shippedSpecs()).get('broadcast-hd')!;
const seen = readingsUnder(
  await measureClip(clip, { overrides: { range: { startFrame: 0, endFrame: 24 } } }),
  spec,
);
const many = Array.from({ length: CLIPS }, () => ({ clipId: '', clip: '', ...seen }));
const moved = withLimit(spec, 'noise.lumaPct', 'fail', 1);
changesBetween(many, spec, moved);
const judging = await seconds(() => changesBetween(many, spec, moved));
console.log(`${CLIPS} clips judged anew under a moved limit: ${(1000 * judging).toFixed(0)} ms`);
