import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import type { Source } from './source.js';

const CHUNK_BYTES = 2 ** 20;

/** Size and last change of a source: as long as they stay, its content is taken to stay. */
export interface Stamp {
  /** Bytes, of all files together. */
  readonly size: number;
  /** Ms since 1970, of the file that was changed last. */
  readonly modifiedMs: number;
}

/** How large a source is, and when it was last changed. */
export const stampOf = async ({ files }: Source): Promise<Stamp> => {
  let [size, modifiedMs] = [0, 0];
  for (const file of files) {
    const found = await stat(file);
    size += found.size;
    modifiedMs = Math.max(modifiedMs, found.mtimeMs);
  }
  return { size, modifiedMs };
};

/**
 * SHA-256 of what a source holds, as hexadecimal figures; of numbered stills, of all of them in their order.
 * @param signal stops reading
 */
export const contentOf = async ({ files }: Source, signal?: AbortSignal): Promise<string> => {
  const hash = createHash('sha256');
  for (const file of files)
    for await (const chunk of createReadStream(file, { highWaterMark: CHUNK_BYTES, signal }))
      hash.update(chunk as Buffer);
  return hash.digest('hex');
};
