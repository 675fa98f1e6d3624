import { spawnSync } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { checkedSettings, runnerOf, Study, type Picture } from '@bevrin/core';
import type { Measurement, Step } from '@bevrin/contract';
import { bytesOf, encodeFrames, measureClip, openSource, probeClip, readPictures } from '@bevrin/media';
import { renderStudy, type StudyClip } from '@bevrin/rig';

/** A folder for files that are made for a test, and what makes them. */
export class Bench {
  private count = 0;
  private constructor(readonly folder: string) {}

  static async open(): Promise<Bench> {
    return new Bench(await mkdtemp(join(tmpdir(), 'bevrin-recheck-')));
  }

  async close(): Promise<void> {
    await rm(this.folder, { recursive: true, force: true });
  }

  next(ending = 'mkv'): string {
    return join(this.folder, `repaired-${++this.count}.${ending}`);
  }

  /** A file made of another by filters of ffmpeg for any purpose. */
  filtered(path: string, filter: string, ...more: readonly string[]): string {
    const to = this.next();
    const { status, stderr } = spawnSync('ffmpeg', [
      ...['-v', 'error', '-y', '-i', path, '-vf', filter, '-an', '-c:v', 'ffv1', ...more, to],
    ]);
    if (status !== 0) throw new Error(`${filter}: ${stderr.toString()}`);
    return to;
  }

  /** A file of frames that were made from those of another. */
  async made(
    path: string,
    make: (pictures: Picture[], measurement: () => Promise<Measurement>) => Promise<Picture[]>,
  ): Promise<string> {
    const clip = await probeClip(await openSource(path));
    const pictures = await readPictures(clip, 0, clip.facts.frames);
    const to = this.next();
    const { width, height, frameRate } = clip.facts;
    const frames = (await make(pictures, () => measureClip(path))).map(bytesOf);
    await encodeFrames(
      { width, height, frameRate, pixelFormat: clip.format.planar, colour: clip.facts },
      'ffv1',
      frames,
      to,
    );
    return to;
  }

  /** A file repaired by a treatment of ours. */
  treated(path: string, treatment: Step['treatment'], settings: Step['settings']): Promise<string> {
    return this.made(path, async (pictures, measurement) => {
      const clip = await probeClip(await openSource(path));
      const runner = runnerOf(treatment);
      const study = new Study({ clip: clip.facts, firstFrame: 0, pictures });
      const running = runner.begin(study, checkedSettings(runner.settings, settings), await measurement());
      return pictures.map((_, i) => running.treat(i));
    });
  }
}

export const drawn = async (clip: StudyClip): Promise<string> => (await renderStudy(clip)).path;
