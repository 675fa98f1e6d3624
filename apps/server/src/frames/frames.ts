import { existsSync } from 'node:fs';
import { mkdir, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { STRIP_PICTURES, type Region } from '@bevrin/contract';
import {
  mustBeWholeJpeg,
  openSource,
  partOfFrame,
  probeClip,
  stillFrame,
  writeStrip,
  type ProbedClip,
} from '@bevrin/media';
import type { ClipStore } from '../clips/clips.js';
import { writeWhole } from '../clips/files.js';
import { FrameRuns, type StoredFrame } from './frame-runs.js';
import { Problem } from '../http/problem.js';

/** Clips whose facts are kept in mind. */
const KNOWN_CLIPS = 64;
/** Of a batch that is opened, so many clips are looked at before anybody asks. */
const LOOKED_AHEAD = 24;
/** A part of the picture on a report is never smaller than this, px. */
const LEAST_PART_PX = 96;
const PART_WIDTH = 320;

/** Frames of the clips, as they are stored. A clip is probed once, as long as its file stays the same. */
export class FrameStore {
  private readonly probed = new Map<string, { readonly stamp: string; readonly clip: Promise<ProbedClip> }>();
  private readonly runs = new FrameRuns();
  private readonly writing = new Map<string, Promise<void>>();

  constructor(private readonly store: ClipStore) {}

  async png(clipId: string, frame: number, signal: AbortSignal): Promise<Buffer> {
    return stillFrame(await this.clip(clipId), frame, signal);
  }

  /** The code values of a frame, as they are stored. */
  async stored(clipId: string, frame: number): Promise<StoredFrame> {
    const clip = await this.clip(clipId);
    return this.runs.frame(`${clipId} ${this.probed.get(clipId)?.stamp}`, clip, frame);
  }

  /** Looks at the files of clips that may be opened next, one after another; once for each. */
  async lookAhead(clipIds: readonly string[]): Promise<void> {
    for (const id of clipIds.slice(0, LOOKED_AHEAD))
      if (!this.probed.has(id)) await this.clip(id).catch(() => undefined);
  }

  stop(): void {
    this.runs.stop();
  }

  /** The film strip, made when it is first asked for. */
  async strip(clipId: string): Promise<string> {
    const folder = this.store.folderOf(clipId);
    const proxy = join(folder, 'proxy.mp4');
    if (!existsSync(proxy)) throw new Problem(404, 'There is no picture of this clip yet.');
    return this.made(join(folder, 'strip.jpg'), async (path) =>
      writeStrip(await this.clip(clipId), proxy, STRIP_PICTURES, path),
    );
  }

  /** A picture of a place at its worst, for a report; the whole frame where it is all over. */
  async evidence(clipId: string, frame: number, region: Region | null): Promise<string> {
    const clip = await this.clip(clipId);
    const { width, height } = clip.facts;
    const part = region ? around(region, width, height) : { x: 0, y: 0, width, height };
    const name = `evidence-${frame}-${part.x}-${part.y}-${part.width}.jpg`;
    return this.made(join(this.store.folderOf(clipId), name), async (path) => {
      await mkdir(this.store.folderOf(clipId), { recursive: true });
      await writeFile(path, await partOfFrame(clip, frame, part, PART_WIDTH));
    });
  }

  /** Writes a file once, however many ask for it; one that was cut short is never taken for whole. */
  private async made(path: string, write: (path: string) => Promise<void>): Promise<string> {
    if (existsSync(path)) return path;
    const under = this.writing.get(path) ?? writeWhole(path, write, mustBeWholeJpeg);
    this.writing.set(path, under);
    try {
      await under;
    } finally {
      this.writing.delete(path);
    }
    return path;
  }

  private async clip(clipId: string): Promise<ProbedClip> {
    const { path, name } = await this.store.where(clipId);
    if (path === null)
      throw new Problem(409, `${name}: the upload is not complete, so there are no frames yet.`);
    const found = await stat(path).catch(() => null);
    const stamp = `${path} ${found?.size} ${found?.mtimeMs}`;
    const known = this.probed.get(clipId);
    if (known?.stamp === stamp) return known.clip;
    const clip = openSource(path).then(probeClip);
    this.probed.set(clipId, { stamp, clip });
    clip.catch(() => this.probed.delete(clipId));
    if (this.probed.size > KNOWN_CLIPS) this.probed.delete([...this.probed.keys()][0]);
    return clip;
  }
}

/** A part of the picture in the shape of the picture, with the region in its middle and something around it. */
const around = (
  region: Region,
  width: number,
  height: number,
): { x: number; y: number; width: number; height: number } => {
  const aspect = 4 / 3;
  const wide = Math.min(
    width,
    Math.floor(height * aspect),
    Math.max(LEAST_PART_PX, 1.6 * region.width, 1.6 * region.height * aspect),
  );
  const w = Math.max(2, Math.floor(wide / 2) * 2);
  const h = Math.max(2, Math.floor(w / aspect / 2) * 2);
  const place = (middle: number, size: number, all: number): number =>
    Math.max(0, Math.min(all - size, Math.round(middle - size / 2)));
  return {
    x: place(region.x + region.width / 2, w, width),
    y: place(region.y + region.height / 2, h, height),
    width: w,
    height: h,
  };
};
