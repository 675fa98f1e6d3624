import type { ClipRecheck } from '@bevrin/contract';
import type { SheetRecheck } from '../reports/recheck-page.js';
import type { AlignedFrames } from './aligned-frames.js';
import type { FrameStore } from './frames.js';

const MOST_PICTURES = 4;
/** Whole pictures that are no further apart show the same, frames. */
const APART = 5;
/** What is shown about a place that has no size of its own, px. */
const SIDE = 120;

/** A recheck with pictures of both files where it is worst; a place that cannot be read any more does without. */
export const printedRecheck = async (
  of: ClipRecheck,
  frames: FrameStore,
  aligned: AlignedFrames,
): Promise<SheetRecheck | null> => {
  const { recheck, range } = of;
  if (!recheck) return null;
  const evidence: { before: string; after: string; caption: string }[] = [];
  const shown: number[] = [];
  const offset = recheck.alignment?.frameOffset ?? 0;
  for (const { frames: at, at: place } of range ? recheck.reasons : []) {
    if (!at || evidence.length === MOST_PICTURES) continue;
    const own = Math.round((at.startFrame + at.endFrame) / 2);
    // Two reasons that hold for the whole picture at one moment are shown by one pair.
    if (!place && shown.some((frame) => Math.abs(frame - own) < APART)) continue;
    if (!place) shown.push(own);
    const frame = own + offset;
    const region = place && { x: place.x - SIDE / 2, y: place.y - SIDE / 2, width: SIDE, height: SIDE };
    const pair = await Promise.all([
      frames.evidence(of.clipId, frame, region),
      frames.evidenceOver(of.clipId, `recheck-${of.id}`, frame, region, async () => {
        const { bytes } = await aligned.frame(of.id, frame);
        return bytes;
      }),
    ]).catch(() => null);
    if (pair) evidence.push({ before: pair[0], after: pair[1], caption: `repaired, frame ${own}` });
  }
  return { of, recheck, evidence };
};
