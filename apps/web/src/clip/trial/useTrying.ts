import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useDispatch } from 'react-redux';
import type { ClipDetail, ClipPlan, ClipTrial, DecidedStep, Trial, TriedSubject } from '@bevrin/contract';
import { api } from '../../api/client.js';
import type { TriedRun } from '../picture/worker.js';
import { runLabel } from './words.js';

/** A trial with something found, and the run of it that is looked at. */
export interface OpenTrial extends TriedRun {
  readonly job: ClipTrial;
  readonly trial: Trial;
}

/** What is tried on a clip, and which of it is looked at. */
export interface Trying {
  readonly trials: readonly ClipTrial[];
  /** The treatment that is looked at; `null` where nothing is known to try. */
  readonly treatment: TriedSubject | null;
  readonly step: DecidedStep | null;
  readonly open: OpenTrial | null;
  /** What the picture is set against: another setting, or the frame as it came where it is `null`. */
  readonly against: (TriedRun & { readonly label: string; readonly range: Trial['range'] }) | null;
  setAgainst(run: TriedRun | null): void;
  look(treatment: TriedSubject): void;
  choose(trialId: string, run: number): void;
}

const NONE: readonly ClipTrial[] = [];

/** @param on whether trials are looked at */
export const useTrying = (clip: ClipDetail, plan: ClipPlan | null, on: boolean): Trying => {
  const dispatch = useDispatch();
  const { data: trials = NONE } = api.useTrialsQuery(clip.id, {
    skip: !clip.judgement || clip.versionOf !== null,
  });
  const [wanted, look] = useState<TriedSubject | null>(null);
  const [chosen, setChosen] = useState<TriedRun | null>(null);
  const [other, setAgainst] = useState<TriedRun | null>(null);
  const done = trials.filter((t) => t.state === 'done').length;
  const known = useRef(done);
  useEffect(() => {
    if (done === known.current) return;
    known.current = done;
    // What was tried stands behind the steps of the plan.
    dispatch(api.util.invalidateTags([{ type: 'plan', id: clip.id }, 'work']));
  }, [done, dispatch, clip.id]);
  const steps = useMemo(
    () => [...(plan?.decided.steps ?? [])].sort((a, b) => a.priority - b.priority),
    [plan],
  );
  const treatment =
    wanted ??
    steps.find((s) => trials.some((t) => t.treatment === s.treatment))?.treatment ??
    steps[0]?.treatment ??
    null;
  const step = steps.find((s) => s.treatment === treatment) ?? null;
  const open = useMemo(
    () => (on ? opened(trials, treatment, step, chosen) : null),
    [on, trials, treatment, step, chosen],
  );
  const choose = useCallback((trialId: string, run: number) => setChosen({ trialId, run }), []);
  const against = useMemo(
    () => (open ? againstOf(trials, treatment, other) : null),
    [open, trials, treatment, other],
  );
  return { trials, treatment, step, open, against, setAgainst, look, choose };
};

/** The setting that was chosen to be set against, while it is one of the treatment and its frames are there. */
export const againstOf = (
  trials: readonly ClipTrial[],
  treatment: TriedSubject | null,
  other: TriedRun | null,
): Trying['against'] => {
  const job = trials.find((t) => t.id === other?.trialId && t.treatment === treatment && t.frames);
  if (!other || !job?.trial || other.run >= job.trial.runs.length) return null;
  return { ...other, label: runLabel(job.trial, other.run), range: job.trial.range };
};

/** The trial that was chosen, or else the one behind the step, or the newest. */
export const opened = (
  trials: readonly ClipTrial[],
  treatment: TriedSubject | null,
  step: DecidedStep | null,
  chosen: TriedRun | null,
): OpenTrial | null => {
  const found = trials.filter((t) => t.treatment === treatment && (t.trial?.runs.length ?? 0) > 0);
  const job =
    found.find((t) => t.id === chosen?.trialId) ??
    found.find((t) => t.id === step?.tried?.trial) ??
    found.at(-1);
  const trial = job?.trial;
  if (!job || !trial) return null;
  const own = chosen?.trialId === job.id ? chosen.run : step?.tried?.trial === job.id ? step.tried.run : null;
  const run = own ?? trial.choice.run ?? 0;
  return { job, trial, trialId: job.id, run: Math.min(run, trial.runs.length - 1) };
};
