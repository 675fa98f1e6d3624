import { useEffect, useState } from 'react';
import { pictures } from './pictures.js';
import type { FrameName, Look, Shown } from './worker.js';

/** A frame that is only passed by is not asked for. */
const PASSING_MS = 70;
const EXPECT_AFTER_MS = 160;

export interface ShownFrame {
  readonly shown: Shown | null;
  /** Which frame that is; −1 before the first. */
  readonly frame: number;
  readonly clipId: string;
  readonly failed: string | null;
}

const NOTHING: ShownFrame = { shown: null, frame: -1, clipId: '', failed: null };

let changedAt = 0;

/**
 * The exact frame as a picture, once the playhead rests; the one before stays until it is there.
 * @param name `null` while nothing is to be fetched
 */
export const useShown = (pane: string, name: FrameName | null, look: Look): ShownFrame => {
  const [state, setState] = useState<ShownFrame>(NOTHING);
  const { clipId = '', content = null, frame = -1, facts } = name ?? {};
  const { channel, viewing, noiseGain } = look;
  useEffect(() => {
    if (!facts) return;
    let gone = false;
    const now = performance.now();
    const passing = now - changedAt < PASSING_MS;
    changedAt = now;
    const wish = { clipId, content, frame, facts };
    const how = { channel, viewing, noiseGain };
    const start = setTimeout(
      () =>
        pictures()
          .show(pane, wish, how)
          .then((shown) => {
            if (gone) shown.bitmap.close();
            else setState({ shown, frame, clipId, failed: null });
          })
          .catch((error: Error) => {
            if (!gone) setState((s) => ({ ...s, failed: error.message }));
          }),
      passing ? PASSING_MS : 0,
    );
    // Most people look at the next frame next.
    const expect = setTimeout(() => {
      if (frame + 1 < facts.frames) void pictures().expect({ ...wish, frame: frame + 1 });
    }, EXPECT_AFTER_MS);
    return () => {
      gone = true;
      clearTimeout(start);
      clearTimeout(expect);
    };
  }, [pane, clipId, content, frame, facts, channel, viewing, noiseGain]);
  useEffect(() => () => state.shown?.bitmap.close(), [state.shown]);
  return state;
};
