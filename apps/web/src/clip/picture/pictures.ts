import { wrap, type Remote } from 'comlink';
import type { Pictures } from './worker.js';

let thread: Remote<Pictures> | null = null;

/** The web worker that fetches exact frames, paints them and measures on them. */
export const pictures = (): Remote<Pictures> =>
  (thread ??= wrap<Pictures>(
    new Worker(new URL('./worker.ts', import.meta.url), { type: 'module', name: 'pictures' }),
  ));

const told = new Set<string>();
/** Frames that were asked for this lately are still with the server. */
const TOLD_MS = 15_000;

/** A pointer that runs over clip after clip means only the one on which it rests. */
const RESTS_MS = 120;
let pointing: ReturnType<typeof setTimeout> | undefined;
let pointedAt = -Infinity;

/** A clip that will be opened soon, because somebody points at it: its first frame is decoded already. */
export const soon = (clipId: string): void => {
  pictures();
  clearTimeout(pointing);
  if (told.has(clipId)) return;
  const now = performance.now();
  const runs = now - pointedAt < RESTS_MS;
  pointedAt = now;
  pointing = setTimeout(
    () => {
      told.add(clipId);
      setTimeout(() => told.delete(clipId), TOLD_MS);
      void fetch(`/api/clips/${clipId}/frames/0/expect`, { method: 'POST' }).catch(() => undefined);
    },
    runs ? RESTS_MS : 0,
  );
};
