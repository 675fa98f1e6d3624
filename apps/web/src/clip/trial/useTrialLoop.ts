import { useEffect, useRef, useState } from 'react';
import type { Playhead } from '../usePlayhead.js';
import type { ShownFrame } from '../picture/useShown.js';
import type { Compared } from '../compared.js';

/**
 * Plays the frames of a trial round and round from their exact pixels, no faster than all that is shown is there.
 * @param sides what is shown, each to be there before it goes on
 * @returns the playhead as it is while a trial is open: to play is to go round
 */
export const useTrialLoop = (
  playhead: Playhead,
  open: Compared | null,
  sides: readonly ShownFrame[],
  rate: number,
): Playhead & { readonly looping: boolean } => {
  const [wanted, setLooping] = useState(false);
  const looping = wanted && open !== null;
  const last = useRef(0);
  const { frame, step, go } = playhead;
  const range = open?.range;
  const ready = sides.every((s) => s.current);
  useEffect(() => {
    if (!looping || !range || !ready) return;
    const due = last.current + 1000 / rate - performance.now();
    const next = setTimeout(
      () => {
        last.current = performance.now();
        step(frame >= range.endFrame || frame < range.startFrame ? range.startFrame : frame + 1);
      },
      Math.max(0, due),
    );
    return () => clearTimeout(next);
  }, [looping, range, ready, frame, rate, step]);
  if (!open) return { ...playhead, looping: false };
  return {
    ...playhead,
    looping,
    go: (to) => {
      setLooping(false);
      go(to);
    },
    toggle: () => {
      setLooping(!looping);
      // Parked again, the playing copy is where the frame is.
      if (looping) go(frame);
    },
  };
};
