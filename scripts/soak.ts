import { spawn } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { mkdir, rename } from 'node:fs/promises';
import { join } from 'node:path';
import { encodeFrames } from '@bevrin/media';
import { pixelFormatName, renderFrames, studyRecipe } from '@bevrin/rig';

const MINUTES = Number(process.argv[2] ?? 10);
const RATE = 25;
const DRAWN = 12;
const SAMPLE_EVERY_MS = 250;
const LIMIT_MIB = 1024;
const FOLDER = join('.cache', 'soak');

/** A long 1080p clip: a few drawn frames, forth and back. */
const longClip = async (): Promise<string> => {
  const path = join(FOLDER, `1080p25-${MINUTES}min.mp4`);
  if (existsSync(path)) return path;
  console.log('making the clip, once …');
  await mkdir(FOLDER, { recursive: true });
  const recipe = studyRecipe({
    study: 'wall',
    width: 1920,
    height: 1080,
    frames: DRAWN,
    camera: { handPx: 4 },
    noisePct: [0.6, 0.6, 0.6],
    seed: 72,
  });
  const frames: Uint8Array[] = [];
  for (const frame of renderFrames(recipe)) frames.push(Uint8Array.from(frame));
  const there = function* (): Generator<Uint8Array> {
    for (let f = 0; f < MINUTES * 60 * RATE; f++)
      yield frames[DRAWN - 1 - Math.abs((f % (2 * DRAWN - 2)) - (DRAWN - 1))];
  };
  const temporary = join(FOLDER, 'part.mp4');
  await encodeFrames(
    { width: 1920, height: 1080, frameRate: `${RATE}/1`, pixelFormat: pixelFormatName(recipe.format) },
    'h264',
    there(),
    temporary,
  );
  await rename(temporary, path);
  return path;
};

/** A process and everything it started, from the kernel's own account. */
const family = (root: number): number[] => {
  const parents = new Map<number, number>();
  for (const name of readdirSync('/proc').filter((n) => /^\d+$/.test(n)))
    try {
      parents.set(Number(name), Number(/\) \S (\d+)/.exec(readFileSync(`/proc/${name}/stat`, 'utf8'))?.[1]));
    } catch {
      // It ended while we looked.
    }
  const members = [root];
  for (let i = 0; i < members.length; i++)
    for (const [pid, parent] of parents) if (parent === members[i]) members.push(pid);
  return members;
};

const residentMiB = (pid: number): number => {
  try {
    return Number(/VmRSS:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
  } catch {
    return 0;
  }
};

const clip = await longClip();
const child = spawn(process.execPath, ['--import', 'tsx', 'apps/cli/src/measure.ts', clip], {
  stdio: ['ignore', 'inherit', 'inherit'],
});
const samples: number[] = [];
const sampling = setInterval(
  () => samples.push(family(child.pid ?? 0).reduce((sum, pid) => sum + residentMiB(pid), 0)),
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
