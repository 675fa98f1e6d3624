import { wrap, type Remote } from 'comlink';
import type { Pictures } from './worker.js';

let thread: Remote<Pictures> | null = null;

/** The web worker that fetches exact frames, paints them and measures on them. */
export const pictures = (): Remote<Pictures> =>
  (thread ??= wrap<Pictures>(
    new Worker(new URL('./worker.ts', import.meta.url), { type: 'module', name: 'pictures' }),
  ));
