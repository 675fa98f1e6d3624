import { useEffect, useMemo, useState } from 'react';
import { pictures } from './pictures.js';
import type { FrameName, Look, Shown, TriedRun } from './worker.js';

/** A frame that is only passed by is not asked for. */
const PASSING_MS = 70;
const EXPECT_AFTER_MS = 160;

export interface ShownFrame {
  readonly shown: Shown | null;
  /** Which frame that is; −1 before the first. */
  readonly frame: number;
  /** The run of a trial that treated it; left out where it is as it came. */
  readonly tried?: TriedRun;
  readonly failed: string | null;
  /** Whether that is what is asked for now; until then the one before stays, or why it is not there. */
  readonly current: boolean;
}

const NOTHING = { shown: null, frame: -1, failed: null, asked: null };

let changedAt = 0;

/**
 * The exact frame as a picture, once the playhead rests; the one before stays until it is there.
 * @param name `null` while nothing is to be fetched
 * @param eager whether a frame that is only passed by is wanted, too
 */
export const useShown = (pane: string, name: FrameName | null, look: Look, eager = false): ShownFrame => {
  const [state, setState] = useState<Omit<ShownFrame, 'current'> & { asked: object | null }>(NOTHING);
  const { clipId = '', content = null, frame = -1, facts, tried } = name ?? {};
  const { channel, viewing, noiseGain, takenGain, masked, against = null } = look;
  const [trialId, run] = [tried?.trialId, tried?.run];
  const asked = useMemo(() => {
    const treated = trialId !== undefined && run !== undefined ? { tried: { trialId, run } } : {};
    const how = { channel, viewing, noiseGain, takenGain, masked, against };
    return { wish: { clipId, content, frame, ...treated }, treated, how };
  }, [clipId, content, frame, trialId, run, channel, viewing, noiseGain, takenGain, masked, against]);
  useEffect(() => {
    if (!facts) return;
    const { treated, how } = asked;
    const wish = { ...asked.wish, facts };
    const { frame } = wish;
    let gone = false;
    const now = performance.now();
    const passing = !eager && now - changedAt < PASSING_MS;
    changedAt = now;
    const start = setTimeout(
      () =>
        pictures()
          .show(pane, wish, how)
          .then((shown) => {
            if (gone) shown.bitmap.close();
            else setState({ shown, frame, ...treated, failed: null, asked });
          })
          .catch((error: Error) => {
            if (!gone) setState((s) => ({ ...s, failed: error.message, asked }));
          }),
      passing ? PASSING_MS : 0,
    );
    // Most people look at the next frame next.
    const expect = setTimeout(() => {
      if (frame + 1 < facts.frames && !('tried' in treated))
        void pictures().expect({ ...wish, frame: frame + 1 });
    }, EXPECT_AFTER_MS);
    return () => {
      gone = true;
      clearTimeout(start);
      clearTimeout(expect);
    };
  }, [pane, asked, facts, eager]);
  useEffect(() => () => state.shown?.bitmap.close(), [state.shown]);
  return useMemo(() => ({ ...state, current: state.asked === asked }), [state, asked]);
};
