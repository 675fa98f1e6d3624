import { basename } from 'node:path';
import { eq } from 'drizzle-orm';
import { isSameRate, printable, type AskedReturn, type ReturnedFiles } from '@bevrin/contract';
import { clipsNamed } from '@bevrin/core';
import { openSource, probeClip } from '@bevrin/media';
import type { ClipRow } from '../clips/clip-rows.js';
import type { ClipStore } from '../clips/clips.js';
import { clipsAt, insideMedia } from '../clips/register.js';
import { clips as clipTable } from '../database/schema.js';
import { explain, Problem } from '../http/problem.js';
import type { RecheckOutcome } from '../jobs/recheck-task.js';
import { threadsFor, type Threads } from '../jobs/threads.js';
import type { RecheckStore } from './recheck-store.js';

/** A picture is set against so many clips; of more it is asked. */
const MOST_COMPARED = 16;

/** Which clip a repaired file was made of, and whether that is certain. */
type Found =
  | { readonly clip: ClipRow; readonly by: 'name' | 'picture' }
  | { readonly because: string; readonly candidates: readonly ClipRow[] };

/** Finds for repaired files the clips that they were made of: by name, then by the picture. */
export class ClipFinder {
  private threads: Threads | null = null;

  constructor(
    private readonly rechecks: RecheckStore,
    private readonly clips: ClipStore,
    private readonly mediaDirs: readonly string[],
  ) {}

  /**
   * Returns a repaired file, or every one of a folder, to the clips of a batch. Originals of the batch are passed over.
   * @throws {Problem} when the path is not there or holds nothing that could be returned
   */
  async bring(batchId: string, who: string, path: string): Promise<ReturnedFiles> {
    const real = await insideMedia(path, this.mediaDirs);
    const all = await this.clips.rows(eq(clipTable.batchId, batchId));
    const own = all.filter((c) => c.state === 'measured');
    const originals = new Set(all.map((c) => c.version.path));
    const files = (await clipsAt(real)).filter((file) => !originals.has(file));
    if (files.length === 0)
      throw new Problem(
        409,
        `${printable(basename(real))}: there are only originals of this batch. Give the path of the repaired files.`,
      );
    const result: ReturnedFiles = { returned: [], asked: [], refused: [] };
    for (const file of files) {
      const name = printable(basename(file));
      try {
        const found = await this.find(file, own);
        if ('because' in found) result.asked.push(asked(file, found));
        else {
          await this.rechecks.add(found.clip.id, who, file);
          result.returned.push({ file: name, clipId: found.clip.id, name: found.clip.name, by: found.by });
        }
      } catch (error) {
        // One file that is none does not keep the others; what is wrong with the house does.
        const { status, message } = explain(error);
        if (status >= 500) throw error;
        result.refused.push(message.includes(name) ? message : `${name}: ${message}`);
      }
    }
    return result;
  }

  private async find(file: string, own: readonly ClipRow[]): Promise<Found> {
    const named = clipsNamed(basename(file), own);
    if (named.length === 1) return { clip: named[0], by: 'name' };
    const { facts } = await probeClip(await openSource(file));
    const near = (named.length > 0 ? named : own).filter(
      ({ version }) => version.facts && version.path && isSameRate(version.facts.frameRate, facts.frameRate),
    );
    if (near.length === 0)
      return { because: 'No clip of this batch has its name or its frame rate.', candidates: own };
    if (near.length > MOST_COMPARED)
      return { because: 'No clip has its name, and too many could be looked at.', candidates: near };
    const likeness = await this.likeness(file, near);
    const alike = near.filter((_, i) => likeness[i] !== null);
    if (alike.length === 1) return { clip: alike[0], by: 'picture' };
    return alike.length === 0
      ? { because: 'It has the name of no clip, and looks like none of them.', candidates: near }
      : { because: `It looks like ${alike.length} clips.`, candidates: alike };
  }

  private async likeness(file: string, near: readonly ClipRow[]): Promise<readonly (number | null)[]> {
    this.threads ??= threadsFor('recheck-thread', 'likeness');
    const originals = near.map((c) => c.version.path!);
    const outcome = (await this.threads.run({
      kind: 'likeness',
      originals,
      repaired: file,
    })) as RecheckOutcome;
    if ('message' in outcome) throw new Problem(422, outcome.message.replaceAll(file, basename(file)));
    return 'likeness' in outcome ? outcome.likeness : [];
  }

  stop(): void {
    void this.threads?.end();
  }
}

const asked = (file: string, { because, candidates }: Extract<Found, { because: string }>): AskedReturn => ({
  file: printable(basename(file)),
  path: file,
  because,
  candidates: candidates.map(({ id, name }) => ({ clipId: id, name })),
});
