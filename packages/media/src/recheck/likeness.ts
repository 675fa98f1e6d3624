import { isSameRate } from '@bevrin/contract';
import { likenessBetween } from '@bevrin/core';
import { probeClip, type ProbedClip } from '../probe.js';
import { openSource } from '../source.js';
import { SAME_SCENE, thumbsOf } from './align.js';

const probed = async (path: string): Promise<ProbedClip> => probeClip(await openSource(path));

/**
 * How alike a file is to each of the clips that it may be made of, 0–1.
 * @returns for each of the originals; `null` where it does not lie on it from any frame on, or runs at another rate
 * @throws {ClipUnreadable} {@link DecoderStopped} {@link ToolMissing}
 */
export const likenessOf = async (
  originals: readonly string[],
  repaired: string,
): Promise<readonly (number | null)[]> => {
  const own = await probed(repaired);
  const thumbs = await thumbsOf(own);
  const found: (number | null)[] = [];
  for (const path of originals) {
    const original = await probed(path);
    const likeness = isSameRate(original.facts.frameRate, own.facts.frameRate)
      ? likenessBetween(await thumbsOf(original), thumbs)
      : null;
    found.push(likeness !== null && likeness >= SAME_SCENE ? likeness : null);
  }
  return found;
};
