import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Defect, Measurement } from '@bevrin/contract';
import type { Picture } from '@bevrin/core';
import { bytesOf, encodeFrames, measureClip, openSource, probeClip, readPictures } from '@bevrin/media';
import { renderStudy, type StudyClip } from '@bevrin/rig';
import { judging } from '../accuracy/seeds.js';

/** Frames of a drawn clip with a defect and of the same clip without it, and where they are stored. */
export const pairOf = async (
  clip: StudyClip,
  without: Partial<StudyClip>,
  first: number,
  count: number,
): Promise<{ faulty: Read; clean: Read }> => {
  const seeded = { ...clip, seed: judging(clip.seed) };
  const [faulty, clean] = [await renderStudy(seeded), await renderStudy({ ...seeded, ...without })];
  return { faulty: await read(faulty.path, first, count), clean: await read(clean.path, first, count) };
};

interface Read {
  readonly path: string;
  readonly clip: Awaited<ReturnType<typeof probeClip>>;
  readonly pictures: readonly Picture[];
}

/** Frames of a file. */
export const read = async (path: string, first: number, count: number): Promise<Read> => {
  const clip = await probeClip(await openSource(path));
  return { path, clip, pictures: await readPictures(clip, first, count) };
};

/** Peak signal-to-noise ratio of a plane of 8 bits over some frames, dB. */
export const psnr = (
  a: readonly Picture[],
  b: readonly Picture[],
  plane: number,
  from: number,
  to: number,
): number => {
  let [sum, count] = [0, 0];
  for (let f = from; f < to; f++) {
    const [x, y] = [a[f].planes[plane].samples, b[f].planes[plane].samples];
    for (let i = 0; i < x.length; i++) sum += (x[i] - y[i]) ** 2;
    count += x.length;
  }
  return 10 * Math.log10((255 * 255) / (sum / count));
};

/** What is measured on treated frames of a file: all, or some defects alone. */
export const measuredFrames = async (
  pictures: readonly Picture[],
  { clip }: Pick<Read, 'clip'>,
  only?: readonly Defect[],
): Promise<Measurement> => {
  const folder = await mkdtemp(join(tmpdir(), 'bevrin-repair-'));
  const path = join(folder, 'treated.mkv');
  const { width, height, frameRate } = clip.facts;
  try {
    await encodeFrames(
      { width, height, frameRate, pixelFormat: clip.format.planar },
      'ffv1',
      pictures.map(bytesOf),
      path,
    );
    return await measureClip(path, { only });
  } finally {
    await rm(folder, { recursive: true });
  }
};
