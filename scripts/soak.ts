import { spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { studyRecipe } from '@bevrin/rig';
import { makeLongClip } from './setup/long-clip.js';
import { familyOf } from './setup/processes.js';

const MINUTES = Number(process.argv[2] ?? 10);
const RATE = 25;
const DRAWN = 12;
const SAMPLE_EVERY_MS = 250;
const LIMIT_MIB = 1024;

const residentMiB = (pid: number): number => {
  try {
    return Number(/VmRSS:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
  } catch {
    return 0;
  }
};

const clip = join('.cache', 'soak', `1080p25-${MINUTES}min.mp4`);
const recipe = studyRecipe({
  study: 'wall',
  width: 1920,
  height: 1080,
  frames: DRAWN,
  camera: { handPx: 4 },
  noisePct: [0.6, 0.6, 0.6],
  seed: 72,
});
await makeLongClip(clip, recipe, MINUTES * 60 * RATE);
const child = spawn(process.execPath, ['apps/cli/measure.mjs', clip], {
  stdio: ['ignore', 'inherit', 'inherit'],
});
const samples: number[] = [];
const sampling = setInterval(
  () => samples.push(familyOf(child.pid ?? 0).reduce((sum, { pid }) => sum + residentMiB(pid), 0)),
  SAMPLE_EVERY_MS,
);
const code = await new Promise<number | null>((done) => child.once('close', done));
clearInterval(sampling);
const third = Math.floor(samples.length / 3);
const most = (part: readonly number[]): number => Math.max(...part);
const peak = most(samples);
console.log(
  `peak of all processes: ${peak.toFixed(0)} MiB; in the first, middle and last third: ${[0, 1, 2].map((i) => most(samples.slice(i * third, (i + 1) * third)).toFixed(0)).join(', ')} MiB`,
);
process.exitCode = code === 0 && peak < LIMIT_MIB ? 0 : 1;
