import {
  contentOf,
  mustBeWholeJpeg,
  mustBeWholeProxy,
  openSource,
  probeClip,
  stampOf,
  writePoster,
  writeProxy,
} from '@bevrin/media';
import type { ClipRow } from '../clips/clip-rows.js';
import type { ClipStore } from '../clips/clips.js';
import type { PictureStore } from '../clips/picture-store.js';
import type { VersionRow } from '../database/schema.js';

/** A clip whose file is there. */
export type PresentClip = ClipRow & { readonly version: VersionRow & { readonly path: string } };

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
    const known =
      row.version.contentHash !== null &&
      row.version.modifiedMs === stamp.modifiedMs &&
      row.version.size === stamp.size;
    const { poster, proxy } = row.version;
    if (known && !fresh && this.pictures.has(poster) && this.pictures.has(proxy)) return row;
    const clip = await probeClip(source);
    const contentHash = known && !fresh ? row.version.contentHash! : await contentOf(source, signal);
    const another = row.version.contentHash !== null && row.version.contentHash !== contentHash;
    const version = another ? await this.clips.addOriginal(row.id, row.version) : row.version;
    const again = fresh || another;
    const facts = { ...clip.facts, file: row.name };
    await this.clips.changeVersion(version, { ...stamp, contentHash, facts });
    const made = {
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
    await this.clips.changeVersion(version, made);
    const path = row.version.path;
    return {
      ...row,
      versionId: version.id,
      version: { ...version, ...stamp, ...made, contentHash, facts, path },
    };
  }
}
