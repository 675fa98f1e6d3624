import type { Shot } from '#terms';
import { median } from '../maths/robust.js';
import type { CameraStep } from './motion-analysis.js';

/** Frames to each side that say how fast the camera goes, */
const ABOUT = 3;
/** and how many of them on each side must be known. */
const LEAST_KNOWN = 2;
/** The camera goes at least this fast, share of the width a frame: less is within what a hand does. */
const LEAST_SPEED = 0.0012;
/** The frames about it agree this closely, shares of the speed, and so does a step over one lost frame with twice as much. */
const AGREE = 0.25;

/**
 * Frames before which one was lost: the camera, steady before and after, moves twice as far into them as about them.
 * Only an even move shows it: a camera that stands, or is shaken, says nothing.
 * @param steps into each frame; `null` where unknown
 * @param repeats frames that show the one before again: they have no step of their own
 * @param width of the clip, pixels
 */
export const lostBefore = (
  steps: readonly (CameraStep | null)[],
  repeats: ReadonlySet<number>,
  shots: readonly Shot[],
  width: number,
): number[] =>
  shots.flatMap(({ startFrame, endFrame }) => {
    const found: number[] = [];
    const stepInto = (f: number): CameraStep | null =>
      f > startFrame && f <= endFrame && !repeats.has(f) ? (steps[f] ?? null) : null;
    const known = (from: number, to: number): CameraStep[] =>
      Array.from({ length: to - from + 1 }, (_, i) => stepInto(from + i)).filter((s) => s !== null);
    for (let f = startFrame + 1; f <= endFrame; f++) {
      const here = stepInto(f);
      const [before, after] = [known(f - ABOUT, f - 1), known(f + 1, f + ABOUT)];
      if (!here || before.length < LEAST_KNOWN || after.length < LEAST_KNOWN) continue;
      const about = [...before, ...after];
      const [dx, dy] = [median(about.map((s) => s.dx)), median(about.map((s) => s.dy))];
      const speed = Math.hypot(dx, dy);
      if (speed < LEAST_SPEED * width) continue;
      const even = about.every((s) => Math.hypot(s.dx - dx, s.dy - dy) < AGREE * speed);
      if (even && Math.hypot(here.dx - 2 * dx, here.dy - 2 * dy) < AGREE * speed) found.push(f);
    }
    return found;
  });
