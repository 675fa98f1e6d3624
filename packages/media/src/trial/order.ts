import {
  sweptSettings,
  type DeliverySpec,
  type Measurement,
  type Step,
  type Sweep,
  type Trial,
  type TrialRun,
  type ViewingTransform,
} from '@bevrin/contract';
import {
  checkedSettings,
  defectOf,
  runnerOf,
  RUNNERS,
  sweepOf,
  worstMomentOf,
  type Runner,
} from '@bevrin/core';
import { planesOf } from '../feed.js';
import type { ProbedClip } from '../probe.js';

/** What is to be tried. */
export interface TrialOrder {
  /** One treatment; every step of the plan in its order where none is named. */
  readonly treatment: string | null;
  /** The steps of the plan where it was decided on; those that are proposed where it is not said. */
  readonly plan?: readonly Pick<Step, 'treatment' | 'settings'>[];
  /** Settings that differ from those of the plan, or from what they are otherwise. */
  readonly settings?: Step['settings'];
  readonly sweep?: Sweep;
  /** Frames that are treated, both inside; a second about the worst moment where it is not said. */
  readonly range?: { readonly startFrame: number; readonly endFrame: number };
  readonly spec: DeliverySpec;
  /** Through what the picture is looked at; as it is stored where none is named. */
  readonly viewing?: ViewingTransform;
  /** Folder for the frames of each run; they are dropped where none is named. */
  readonly out?: string;
  /** What was measured of the clip, where that is known already. */
  readonly measured?: Measurement;
  /** No more frames than these are treated where no range is named, */
  readonly mostFrames?: number;
  /** no more bytes of them, */
  readonly mostBytes?: number;
  /** and no more values compared where no sweep is. */
  readonly mostValues?: number;
  /** Threads that make runs at the same time; one where it is not said. */
  readonly threads?: number;
  readonly signal?: AbortSignal;
  /** Told the share that is done, 0–1, and what is being done. */
  readonly progress?: (share: number, what: string) => void;
  /** Told the first run by one frame, treated and kept before anything is measured: what one waits for. */
  readonly onFirst?: (run: TrialRun, range: Trial['range']) => void;
  /** Told each run as soon as it is known. */
  readonly onRun?: (run: TrialRun, range: Trial['range']) => void;
}

/** A trial that cannot be made, with what to do next. */
export class TrialUnusable extends Error {}

/** Fewer frames than these show no movement, noise or flicker. */
const LEAST_FRAMES = 3;
const LEAST_SIDE = 128;
/** Bytes of the frames that are treated at once where nothing else is said: a large picture gets fewer of them. */
const MOST_BYTES = 400 * 2 ** 20;

/** A treatment with its settings. */
export interface TriedStep {
  readonly runner: Runner;
  readonly settings: Step['settings'];
}

export const refuse = ({ facts, source }: ProbedClip): void => {
  const { frames, width, height, scan } = facts;
  if (frames < LEAST_FRAMES)
    throw new TrialUnusable(
      `${source.path}: it has ${frames} ${frames === 1 ? 'frame' : 'frames'}: a trial takes ${LEAST_FRAMES} at least. Take a longer clip.`,
    );
  if (Math.min(width, height) < LEAST_SIDE)
    throw new TrialUnusable(
      `${source.path}: ${width}×${height} is too small for a trial: ${LEAST_SIDE} a side at least.`,
    );
  if (scan === 'interlaced')
    throw new TrialUnusable(
      `${source.path}: its frames hold two fields each: conform it first, a treatment would mix what was never seen together.`,
    );
};

/** Says what is wrong with an order before anything is measured. */
export const checkOrder = (
  { treatment, settings = {}, sweep, range }: TrialOrder,
  { facts, source }: ProbedClip,
): void => {
  const last = facts.frames - 1;
  if (range && (range.endFrame < range.startFrame || range.endFrame > last))
    throw new TrialUnusable(
      `${source.path}: frames ${range.startFrame} to ${range.endFrame} are not all there: it has frames 0 to ${last}. Choose others.`,
    );
  if (treatment === null) return;
  const runner = runnerOf(treatment);
  for (const each of sweep ? sweptSettings(settings, sweep) : [settings])
    checkedSettings(runner.settings, each);
};

/** The runs: each a chain of treatments with their settings. */
export const stepsToTry = (order: TrialOrder, steps: readonly Step[]): TriedStep[][] => {
  if (order.treatment === null) {
    const chain = (order.plan ?? steps).flatMap(asPlanned);
    return chain.length > 0 ? [chain] : [];
  }
  const runner = runnerOf(order.treatment);
  const planned = (order.plan ?? steps).find((s) => s.treatment === runner.treatment);
  if (!planned && !order.settings && !order.sweep) return [];
  const before = (order.plan ?? steps)
    .filter((s) => runner.follows?.includes(s.treatment))
    .flatMap(asPlanned);
  const settings = checkedSettings(runner.settings, {
    ...(planned && knownTo(runner, planned.settings)),
    ...order.settings,
  });
  // Settings that were named are tried as they are, unless a sweep is named as well.
  const many =
    order.settings && !order.sweep
      ? [settings]
      : spread(sweepOf(runner, settings, order.sweep ?? null), settings, runner.swept, order.mostValues);
  return many.map((each) => [...before, { runner, settings: checkedSettings(runner.settings, each) }]);
};

const asPlanned = ({ treatment, settings }: Pick<Step, 'treatment' | 'settings'>): TriedStep[] => {
  const runner = RUNNERS[treatment];
  return runner ? [{ runner, settings: checkedSettings(runner.settings, knownTo(runner, settings)) }] : [];
};

/** Of the settings of a plan those that a treatment runs with: a plan that was approved long ago may hold others. */
const knownTo = ({ settings }: Runner, planned: Step['settings']): Step['settings'] =>
  Object.fromEntries(Object.entries(planned).filter(([name]) => name in settings));

/** Of a sweep the step's own value, and others spread over the rest, in their order. */
const spread = (
  sweep: readonly Step['settings'][],
  settings: Step['settings'],
  swept: string,
  most = sweep.length,
): readonly Step['settings'][] => {
  if (sweep.length <= most) return sweep;
  const apart = (s: Step['settings']): number => Math.abs(Number(s[swept]) - Number(settings[swept]));
  const own = sweep.reduce((best, s) => (apart(s) < apart(best) ? s : best));
  const others = sweep.filter((s) => s !== own);
  const kept = Array.from(
    { length: most - 1 },
    (_, i) => others[Math.round((i * (others.length - 1)) / Math.max(1, most - 2))],
  );
  return sweep.filter((s) => s === own || kept.includes(s));
};

export const nothingToTry = (treatment: string | null, steps: readonly Step[]): string => {
  const proposed = steps.map((s) => s.treatment);
  if (treatment !== null)
    return `The plan does not propose ${treatment} for this clip${proposed.length > 0 ? `, but ${proposed.join(', ')}` : ': it needs no repair'}. Name settings to try it all the same.`;
  return proposed.length === 0
    ? 'The clip needs no repair: there is nothing to try.'
    : `None of the steps of its plan can be tried yet: ${proposed.join(', ')}.`;
};

export const rangeOf = (
  { range, mostFrames = Infinity, mostBytes = MOST_BYTES }: TrialOrder,
  { facts, format }: ProbedClip,
  measurement: Measurement,
  { treatment, judgedOverFrames = LEAST_FRAMES }: Runner,
): { startFrame: number; endFrame: number } => {
  if (range) return range;
  const last = facts.frames - 1;
  const bytes = planesOf(facts.width, facts.height, format).reduce(
    (s, p) => s + p.width * p.height * p.bytes,
    0,
  );
  const held = (most: number): number => Math.floor(most / bytes);
  const second = Math.round(facts.frames / Math.max(1e-9, facts.durationSec));
  const length = Math.max(
    LEAST_FRAMES,
    Math.min(second, mostFrames, held(mostBytes)),
    // Fewer frames than it is judged over would be treated for nothing.
    Math.min(judgedOverFrames, held(Math.max(mostBytes, MOST_BYTES))),
  );
  const defect = defectOf(treatment);
  const at = (defect !== 'conform' && worstMomentOf(measurement, defect)?.frame) || facts.frames >> 1;
  const startFrame = Math.max(0, Math.min(last - length + 1, at - (length >> 1)));
  return { startFrame, endFrame: Math.min(last, startFrame + length - 1) };
};

/** How many frames on either side the steps of a run look at, all together. */
export const windowOf = (run: readonly TriedStep[]): number =>
  run.reduce((sum, { runner, settings }) => sum + runner.neighbours(settings), 0);
