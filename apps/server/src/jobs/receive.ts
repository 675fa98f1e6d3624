import {
  contentOf,
  mustBeWholeJpeg,
  mustBeWholeProxy,
  openSource,
  probeClip,
  stampOf,
  writePoster,
  writeProxy,
  type ProbedClip,
} from '@bevrin/media';
import type { ClipRow } from '../clips/clip-rows.js';
import type { ClipStore } from '../clips/clips.js';
import type { PictureStore } from '../clips/picture-store.js';
import type { VersionRow } from '../database/schema.js';

/** A file that is there. */
export type PresentVersion = VersionRow & { readonly path: string };
/** A clip whose file is there. */
export type PresentClip = ClipRow & { readonly version: PresentVersion };

/** Facts, content, poster and playing copy of a clip's file, so that it can be looked at while it waits or is measured. */
export class Reception {
  constructor(
    private readonly clips: ClipStore,
    private readonly pictures: PictureStore,
  ) {}

  /** Facts and poster alone: a list shows them long before the clip's turn to be measured. */
  async lookAt({ name, version }: PresentClip): Promise<void> {
    const clip = await probeClip(await openSource(version.path));
    const poster = await this.pictures.keep('jpg', (at) => writePoster(clip, at), mustBeWholeJpeg);
    await this.clips.changeVersion(version, { facts: { ...clip.facts, file: name }, poster });
  }

  /**
   * Everything, as far as it is not there yet.
   * @param fresh whether all of it is made again
   * @returns the clip; with a new original where its file is another one than was measured
   */
  async receive(row: PresentClip, fresh: boolean, signal: AbortSignal): Promise<PresentClip> {
    const source = await openSource(row.version.path);
    const stamp = await stampOf(source);
    const known = isSame(row.version, stamp);
    const { poster, proxy } = row.version;
    if (known && !fresh && this.pictures.has(poster) && this.pictures.has(proxy)) return row;
    const clip = await probeClip(source);
    const contentHash = known && !fresh ? row.version.contentHash! : await contentOf(source, signal);
    const another = row.version.contentHash !== null && row.version.contentHash !== contentHash;
    const version = another ? await this.clips.addOriginal(row.id, row.version) : row.version;
    const again = fresh || another;
    const facts = { ...clip.facts, file: row.name };
    await this.clips.changeVersion(version, { ...stamp, contentHash, facts });
    const made = await this.picturesOf(row.version, clip, again, signal);
    await this.clips.changeVersion(version, made);
    const path = row.version.path;
    return {
      ...row,
      versionId: version.id,
      version: { ...version, ...stamp, ...made, contentHash, facts, path },
    };
  }

  /** A file that came back: what it is and its pictures, so that it can be opened by itself. */
  async receiveReturn(version: PresentVersion, name: string, signal: AbortSignal): Promise<void> {
    const source = await openSource(version.path);
    const stamp = await stampOf(source);
    const same = isSame(version, stamp);
    if (same && this.pictures.has(version.poster) && this.pictures.has(version.proxy)) return;
    const clip = await probeClip(source);
    const contentHash = await contentOf(source, signal);
    const facts = { ...clip.facts, file: name };
    const made = await this.picturesOf(version, clip, !same, signal);
    await this.clips.changeVersion(version, { ...stamp, contentHash, facts, ...made });
  }

  /** Poster and playing copy, made where they are not there. */
  private async picturesOf(
    { poster, proxy }: VersionRow,
    clip: ProbedClip,
    again: boolean,
    signal: AbortSignal,
  ): Promise<{ poster: string; proxy: string }> {
    return {
      poster:
        !again && this.pictures.has(poster)
          ? poster
          : await this.pictures.keep('jpg', (at) => writePoster(clip, at), mustBeWholeJpeg),
      proxy:
        !again && this.pictures.has(proxy)
          ? proxy
          : await this.pictures.keep(
              'mp4',
              (at) => writeProxy(clip, at, signal),
              (at) => mustBeWholeProxy(clip, at),
            ),
    };
  }
}

/** Whether a file that was read is the same still. */
const isSame = (
  { contentHash, modifiedMs, size }: VersionRow,
  stamp: { readonly modifiedMs: number; readonly size: number },
): boolean => contentHash !== null && modifiedMs === stamp.modifiedMs && size === stamp.size;
