import { existsSync } from 'node:fs';
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { STRIP_PICTURES, type Region, type Trial } from '@bevrin/contract';
import {
  mustBeWholeJpeg,
  openSource,
  partOfFrame,
  partOfPlanes,
  probeClip,
  stampOf,
  stillFrame,
  writeStrip,
  type ProbedClip,
} from '@bevrin/media';
import type { ClipStore } from '../clips/clips.js';
import type { OpenedVersions } from '../clips/opened-versions.js';
import type { PictureStore } from '../clips/picture-store.js';
import type { TrialStore } from '../trials/trial-store.js';
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
/** Of the shorter side of the picture, what a pair of small pictures on a report shows. */
const PAIR_SHARE = 0.25;

/** Frames of clips, and of versions that are opened by themselves, as they are stored. A file is probed once, as long as it stays the same. */
export class FrameStore {
  private readonly probed = new Map<string, { readonly stamp: string; readonly clip: Promise<ProbedClip> }>();
  private readonly runs = new FrameRuns();
  private readonly writing = new Map<string, Promise<void>>();

  constructor(
    private readonly store: ClipStore,
    private readonly versions: OpenedVersions,
    private readonly pictures: PictureStore,
    private readonly trials: TrialStore,
  ) {}

  async png(clipId: string, frame: number, signal: AbortSignal): Promise<OfContent<{ bytes: Buffer }>> {
    const { clip, of } = await this.clip(clipId);
    return { bytes: await stillFrame(clip, frame, signal), of };
  }

  /** The code values of a frame, as they are stored. */
  async stored(clipId: string, frame: number): Promise<OfContent<StoredFrame>> {
    const { clip, of } = await this.clip(clipId);
    const stored = await this.runs.frame(`${clipId} ${this.probed.get(clipId)?.stamp}`, clip, frame);
    return { ...stored, of };
  }

  /**
   * The code values of a treated frame.
   * @param run index of the run
   * @param frame of the clip
   * @param what the frame itself, or the mask of the places where the treatment worked
   */
  async tried(
    trialId: string,
    run: number,
    frame: number,
    what: 'file' | 'mask' = 'file',
  ): Promise<StoredFrame> {
    const { clip, first, key } = await this.runOf(trialId, run, what);
    return this.runs.frame(key, clip, frame - first);
  }

  /** Where the net is that a run bent. */
  async mesh(trialId: string, run: number): Promise<string> {
    return (await this.fileOf(trialId, run, 'mesh')).path;
  }

  /** Small pictures of the place where a run took most, before and after it, for a report. */
  async beforeAfter(
    clipId: string,
    trialId: string,
    run: number,
  ): Promise<{ before: string; after: string }> {
    const { clip, first, last } = await this.runOf(trialId, run);
    const row = await this.trials.row(trialId);
    const { width, height } = clip.facts;
    const { worstAt } = row.trial!.runs[run];
    const at = worstAt.takenStructurePct ??
      worstAt.detailKeptPct ?? { x: width / 2, y: height / 2, frame: first };
    const frame = Math.max(first, Math.min(last, at.frame));
    const side = PAIR_SHARE * Math.min(width, height);
    const part = around({ x: at.x - side / 2, y: at.y - side / 2, width: side, height: side }, width, height);
    const make = (what: string, of: ProbedClip, f: number): Promise<string> =>
      this.made(join(this.trials.folderOf(row), `${what}-${run + 1}-${frame}.jpg`), async (path) =>
        writeFile(path, await partOfFrame(of, f, part, PART_WIDTH)),
      );
    return {
      before: await make('before', (await this.clip(clipId)).clip, frame),
      after: await make('after', clip, frame - first),
    };
  }

  /** The treated frames of a run: a clip of their own, and which frames of the clip they are. */
  private async runOf(
    trialId: string,
    run: number,
    what: 'file' | 'mask' = 'file',
  ): Promise<{ clip: ProbedClip; first: number; last: number; key: string }> {
    const { path, range } = await this.fileOf(trialId, run, what);
    const key = `trial ${path}`;
    return {
      key,
      clip: await this.probe(key, path),
      first: range.startFrame,
      last: range.endFrame,
    };
  }

  private async fileOf(
    trialId: string,
    run: number,
    what: 'file' | 'mask' | 'mesh',
  ): Promise<{ path: string; range: Trial['range'] }> {
    const row = await this.trials.row(trialId);
    const { trial } = row;
    const file = trial?.runs[run]?.[what];
    if (!trial || !file) throw new Problem(404, 'There is no such run of this trial.');
    const path = join(this.trials.folderOf(row), file);
    if (!existsSync(path))
      throw new Problem(
        404,
        'The frames of this trial are not kept any more: the space was needed. Run it again to see them.',
      );
    return { path, range: trial.range };
  }

  /** What is known of a file that never changes. */
  private async probe(key: string, path: string): Promise<ProbedClip> {
    const known = this.probed.get(key) ?? { stamp: path, clip: openSource(path).then(probeClip) };
    this.probed.set(key, known);
    known.clip.catch(() => this.probed.delete(key));
    if (this.probed.size > KNOWN_CLIPS) this.probed.delete([...this.probed.keys()][0]);
    return known.clip;
  }

  /** Looks at the files of clips that may be opened next, one after another; once for each. */
  async lookAhead(clipIds: readonly string[]): Promise<void> {
    for (const id of clipIds.slice(0, LOOKED_AHEAD))
      if (!this.probed.has(id)) await this.clip(id).catch(() => undefined);
  }

  stop(): void {
    this.runs.stop();
  }

  /** The film strip, made of the playing copy when it is first asked for. */
  async strip(clipId: string): Promise<OfContent<{ path: string }>> {
    const { version } = await this.versions.file(clipId);
    const { proxy } = version;
    if (!this.pictures.has(proxy)) throw new Problem(404, 'There is no picture of this clip yet.');
    const { clip } = await this.clip(clipId);
    const path = await this.made(this.pictures.pathOf(proxy.replace('.mp4', '-strip.jpg')), (at) =>
      writeStrip(clip, this.pictures.pathOf(proxy), STRIP_PICTURES, at),
    );
    return { path, of: proxy };
  }

  /** A picture of a place at its worst, for a report; the whole frame where it is all over. */
  async evidence(clipId: string, frame: number, region: Place | null): Promise<string> {
    const { clip, of } = await this.clip(clipId);
    return this.part(clip, clipId, `evidence-${of ?? 'unread'}`, frame, region, (part) =>
      partOfFrame(clip, frame, part, PART_WIDTH),
    );
  }

  /**
   * The same place of another picture that lies over a frame of the clip.
   * @param of what it is a picture of: its name for as long as the clip is there
   */
  async evidenceOver(
    clipId: string,
    of: string,
    frame: number,
    region: Place | null,
    planes: () => Promise<Uint8Array>,
  ): Promise<string> {
    const { clip } = await this.clip(clipId);
    return this.part(clip, clipId, of, frame, region, async (part) =>
      partOfPlanes(clip, await planes(), part, PART_WIDTH),
    );
  }

  private part(
    { facts: { width, height } }: ProbedClip,
    clipId: string,
    of: string,
    frame: number,
    region: Place | null,
    draw: (part: Place) => Promise<Buffer>,
  ): Promise<string> {
    const part = region ? around(region, width, height) : { x: 0, y: 0, width, height };
    const folder = this.store.folderOf(clipId);
    return this.made(join(folder, `${of}-${frame}-${part.x}-${part.y}-${part.width}.jpg`), async (path) => {
      await mkdir(folder, { recursive: true });
      await writeFile(path, await draw(part));
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

  private async clip(clipId: string): Promise<OfContent<{ clip: ProbedClip }>> {
    const { name, version } = await this.versions.file(clipId);
    const { path, contentHash } = version;
    if (path === null)
      throw new Problem(409, `${name}: the upload is not complete, so there are no frames yet.`);
    const source = await openSource(path);
    const { size, modifiedMs } = await stampOf(source);
    const of = size === version.size && modifiedMs === version.modifiedMs ? contentHash : null;
    const stamp = `${path} ${size} ${modifiedMs}`;
    const known = this.probed.get(clipId);
    if (known?.stamp === stamp) return { clip: await known.clip, of };
    const clip = probeClip(source);
    this.probed.set(clipId, { stamp, clip });
    clip.catch(() => this.probed.delete(clipId));
    if (this.probed.size > KNOWN_CLIPS) this.probed.delete([...this.probed.keys()][0]);
    return { clip: await clip, of };
  }
}

/** What was made of a file, and the content of that file; `null` where the file is another one than was read. */
type OfContent<T> = T & { readonly of: string | null };

type Place = Pick<Region, 'x' | 'y' | 'width' | 'height'>;

/** A part of the picture in the shape of the picture, with the region in its middle and something around it. */
const around = (region: Place, width: number, height: number): Place => {
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
