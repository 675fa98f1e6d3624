import { useEffect, useMemo } from 'react';
import type { ClipDetail, ClipFacts } from '@bevrin/contract';
import { TAKEN_GAIN, type Bench } from './bench.js';
import { useShown } from './picture/useShown.js';
import type { FrameName } from './picture/worker.js';
import type { Compared } from './compared.js';
import type { Trying } from './trial/useTrying.js';
import { useHeld } from './useClipCommands.js';

interface Wanted {
  readonly clip: ClipDetail & { facts: ClipFacts };
  readonly frame: number;
  readonly playing: boolean;
  readonly bench: Bench;
  readonly open: Compared | null;
  /** Another setting that the open one is set against. */
  readonly against: Trying['against'];
  readonly onPicture: (clipId: string) => void;
}

/** The picture that is asked for, as it is looked at, and the plain one beside a split or above a treated one. */
export const usePictures = ({ clip, frame, playing, bench, open, against, onPicture }: Wanted) => {
  const { id, content, state, facts } = clip;
  const plainHeld = useHeld('q');
  const through = bench.viewing !== null && bench.through && (!plainHeld || open !== null);
  const range = open?.range;
  const treated = range !== undefined && frame >= range.startFrame && frame <= range.endFrame && !plainHeld;
  const [trialId, run] = [open?.trialId, open?.run];
  const isAgainst = against !== null && frame >= against.range.startFrame && frame <= against.range.endFrame;
  const [otherTrial, otherRun] = isAgainst ? [against.trialId, against.run] : [undefined, undefined];
  const name = useMemo(() => {
    if (playing || state === 'receiving') return null;
    const plain = { clipId: id, content, frame, facts };
    const tried = (trial?: string, setting?: number): FrameName & typeof plain =>
      trial !== undefined && setting !== undefined
        ? { ...plain, tried: { trialId: trial, run: setting } }
        : plain;
    const other = tried(otherTrial, otherRun);
    return { plain, other, wanted: treated ? tried(trialId, run) : other };
  }, [playing, state, id, content, frame, facts, treated, trialId, run, otherTrial, otherRun]);
  const { channel, viewing, noiseGain, compare } = bench;
  const look = { channel, viewing: through ? viewing : null, noiseGain };
  const comparing = treated && (compare === 'split' || compare === 'above') ? compare : null;
  const takenGain = treated && compare === 'taken' ? TAKEN_GAIN : null;
  const masked = treated && compare === 'mask' && open?.mask === true;
  const eager = open !== null;
  const set = name?.other.tried ?? null;
  const shown = useShown('main', name?.wanted ?? null, { ...look, takenGain, masked, against: set }, eager);
  const beside = open ? comparing !== null : bench.split !== null;
  const plain = useShown(
    'plain',
    beside ? (name?.other ?? null) : null,
    open ? look : { ...look, viewing: null },
    eager,
  );
  const pictured = shown.shown !== null || shown.failed !== null;
  useEffect(() => {
    if (!pictured) return;
    // When it has been painted, not only drawn.
    let painted: ReturnType<typeof setTimeout> | undefined;
    const next = requestAnimationFrame(() => (painted = setTimeout(() => onPicture(id))));
    return () => {
      cancelAnimationFrame(next);
      clearTimeout(painted);
    };
  }, [pictured, id, onPicture]);
  const split = open ? (comparing === 'split' ? (bench.split ?? 0.5) : null) : through ? bench.split : null;
  return {
    name,
    look,
    shown,
    plain,
    comparing,
    split,
    treated,
    otherLabel: isAgainst ? against.label : 'as it came',
  };
};
export type Pictures = ReturnType<typeof usePictures>;
