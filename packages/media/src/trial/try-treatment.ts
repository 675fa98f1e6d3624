import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import {
  printable,
  type DeliverySpec,
  type Finding,
  type Measurement,
  type ReadingChange,
  type Step,
  type Trial,
  type TrialRun,
} from '@bevrin/contract';
import {
  changesBetween,
  checkedSettings,
  choose,
  defectOf,
  findingsOf,
  harmOf,
  harmValues,
  isMendedBy,
  planFor,
  runnerOf,
  RUNNERS,
  Study,
  sweepOf,
  worseThan,
  worstMomentOf,
  type Picture,
  type Runner,
} from '@bevrin/core';
import { encodeFrames } from '../encode.js';
import { ClipUnreadable } from '../errors.js';
import { measureClip } from '../measure-clip.js';
import { probeClip, type ProbedClip } from '../probe.js';
import { openSource } from '../source.js';
import { bytesOf, readPictures } from './pictures.js';

/** What is to be tried. */
export interface TrialOrder {
  /** One treatment; every step of the plan in its order where none is named. */
  readonly treatment: string | null;
  /** Settings that differ from those of the plan, or from what they are otherwise. */
  readonly settings?: Step['settings'];
  readonly sweep?: { readonly key: string; readonly values: readonly (number | string | boolean)[] };
  /** Frames that are treated, both inside; a second about the worst moment where it is not said. */
  readonly range?: { readonly startFrame: number; readonly endFrame: number };
  readonly spec: DeliverySpec;
  /** Folder for the frames of each run; they are dropped where none is named. */
  readonly out?: string;
  readonly signal?: AbortSignal;
  /** Told what is being done. */
  readonly progress?: (what: string) => void;
}

/** A trial that cannot be made, with what to do next. */
export class TrialUnusable extends Error {}

/** Fewer frames than these show no movement, noise or flicker. */
const LEAST_FRAMES = 3;
const LEAST_SIDE = 128;

/**
 * Tries settings of a treatment, or a plan as a whole, on some frames of a clip: runs it, measures the readings before and
 * after and what it harmed, and says which setting it would take.
 * @throws {TrialUnusable} {@link SettingUnusable} {@link TreatmentUnusable} where that cannot be done; {@link ClipUnreadable};
 * the signal's reason
 */
export const tryTreatment = async (path: string, order: TrialOrder): Promise<Trial> => {
  const clip = await probeClip(await openSource(path));
  const { signal, progress = () => undefined, spec } = order;
  refuse(clip);
  checkOrder(order, clip);
  progress('measuring the clip');
  const measurement = await measureClip(path, { signal });
  const { steps } = planFor(findingsOf(measurement, spec), measurement);
  const runs = stepsToTry(order, steps);
  const clipName = printable(basename(path));
  if (runs.length === 0)
    return {
      schema: 'bevrin.trial/1',
      clip: clipName,
      range: order.range ?? { startFrame: 0, endFrame: clip.facts.frames - 1 },
      runs: [],
      choice: { run: null, because: nothingToTry(order.treatment, steps) },
    };
  const range = rangeOf(order, clip, measurement, runs[0][0].runner);
  const frames = await framesFor(clip, range, runs, signal);
  const before = findingsOf(await measureClip(path, { overrides: { range }, signal }), spec);
  const own = order.out === undefined ? await mkdtemp(join(tmpdir(), 'bevrin-trial-')) : null;
  try {
    const tried: TrialRun[] = [];
    for (const [i, run] of runs.entries()) {
      signal?.throwIfAborted();
      progress(`setting ${i + 1} of ${runs.length}`);
      const file = join(order.out ?? own!, `run-${i + 1}.mkv`);
      tried.push(await runOf(run, frames, file, { clip, measurement, before, order }));
    }
    return {
      schema: 'bevrin.trial/1',
      clip: clipName,
      range,
      runs: tried,
      choice: choose(tried, (reading) => targetOf(reading, before)),
    };
  } finally {
    if (own) await rm(own, { recursive: true, force: true });
  }
};

/** A treatment with its settings. */
interface TriedStep {
  readonly runner: Runner;
  readonly settings: Step['settings'];
}

const refuse = ({ facts, source }: ProbedClip): void => {
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
const checkOrder = (
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
  for (const value of sweep?.values ?? [undefined])
    checkedSettings(runner.settings, value === undefined ? settings : { ...settings, [sweep!.key]: value });
};

/** The runs: each a chain of treatments with their settings. */
const stepsToTry = (order: TrialOrder, steps: readonly Step[]): TriedStep[][] => {
  if (order.treatment === null) {
    const chain = steps.flatMap(({ treatment, settings }) => {
      const runner = RUNNERS[treatment];
      return runner ? [{ runner, settings: checkedSettings(runner.settings, settings) }] : [];
    });
    return chain.length > 0 ? [chain] : [];
  }
  const runner = runnerOf(order.treatment);
  const planned = steps.find((s) => s.treatment === runner.treatment);
  if (!planned && !order.settings && !order.sweep) return [];
  const settings = checkedSettings(runner.settings, { ...planned?.settings, ...order.settings });
  // Settings that were named are tried as they are, unless a sweep is named as well.
  const many = order.settings && !order.sweep ? [settings] : sweepOf(runner, settings, order.sweep ?? null);
  return many.map((each) => [{ runner, settings: checkedSettings(runner.settings, each) }]);
};

const nothingToTry = (treatment: string | null, steps: readonly Step[]): string => {
  const proposed = steps.map((s) => s.treatment);
  if (treatment !== null)
    return `The plan does not propose ${treatment} for this clip${proposed.length > 0 ? `, but ${proposed.join(', ')}` : ': it needs no repair'}. Name settings to try it all the same.`;
  return proposed.length === 0
    ? 'The clip needs no repair: there is nothing to try.'
    : `None of the steps of its plan can be tried yet: ${proposed.join(', ')}.`;
};

const rangeOf = (
  { range }: TrialOrder,
  { facts }: ProbedClip,
  measurement: Measurement,
  { treatment }: Runner,
): { startFrame: number; endFrame: number } => {
  if (range) return range;
  const last = facts.frames - 1;
  const second = Math.max(LEAST_FRAMES, Math.round(facts.frames / Math.max(1e-9, facts.durationSec)));
  const defect = defectOf(treatment);
  const at = (defect !== 'conform' && worstMomentOf(measurement, defect)?.frame) || facts.frames >> 1;
  const startFrame = Math.max(0, Math.min(last - second + 1, at - (second >> 1)));
  return { startFrame, endFrame: Math.min(last, startFrame + second - 1) };
};

interface Frames {
  readonly study: Study;
  /** Of the first and behind the last frame that is treated, in the study. */
  readonly from: number;
  readonly to: number;
}

const framesFor = async (
  clip: ProbedClip,
  range: { startFrame: number; endFrame: number },
  runs: readonly (readonly TriedStep[])[],
  signal?: AbortSignal,
): Promise<Frames> => {
  const window = Math.max(...runs.map((run) => windowOf(run)));
  // One more than a treatment looks at takes no part in it: what was kept is measured by that.
  const first = Math.max(0, range.startFrame - window - 1);
  const wanted = range.endFrame + window + 1 - first + 1;
  const pictures = await readPictures(clip, first, wanted, signal);
  const to = Math.min(pictures.length, range.endFrame + 1 - first);
  const from = range.startFrame - first;
  if (to - from < 1)
    throw new ClipUnreadable(
      clip.source.path,
      `nothing could be read from frame ${range.startFrame} on.`,
      'Choose an earlier range.',
    );
  return { study: new Study({ clip: clip.facts, firstFrame: first, pictures }), from, to };
};

const windowOf = (run: readonly TriedStep[]): number =>
  run.reduce((sum, { runner, settings }) => sum + runner.neighbours(settings), 0);

/** The frames of the range, treated by each step after the other. */
const treated = async (
  run: readonly TriedStep[],
  { study, from, to }: Frames,
  measurement: Measurement,
  signal?: AbortSignal,
): Promise<Map<number, Picture>> => {
  // Of a chain every step but the last treats all frames that are there, for those after it to look at.
  let source = study;
  for (const { runner, settings } of run.slice(0, -1)) {
    const running = runner.begin(source, settings, measurement);
    const pictures = Array.from({ length: source.count }, (_, i) => running.treat(i));
    source = new Study({ ...source.sequence, pictures });
  }
  const { runner, settings } = run[run.length - 1];
  const running = runner.begin(source, settings, measurement);
  const after = new Map<number, Picture>();
  for (let i = from; i < to; i++) {
    signal?.throwIfAborted();
    after.set(i, running.treat(i));
    // Others have their turn between two frames.
    await new Promise((resume) => setImmediate(resume));
  }
  return after;
};

const runOf = async (
  run: readonly TriedStep[],
  frames: Frames,
  file: string,
  {
    clip,
    measurement,
    before,
    order,
  }: {
    clip: ProbedClip;
    measurement: Measurement;
    before: readonly Finding[];
    order: TrialOrder;
  },
): Promise<TrialRun> => {
  const { study, from, to } = frames;
  const { facts, format } = clip;
  const began = performance.now();
  const after = await treated(run, frames, measurement, order.signal);
  const seconds = (performance.now() - began) / 1000;
  await encodeFrames(
    {
      width: facts.width,
      height: facts.height,
      frameRate: facts.frameRate,
      pixelFormat: format.planar,
      colour: facts,
    },
    'ffv1',
    framesOf(after),
    file,
  );
  const found = findingsOf(await measureClip(file, { signal: order.signal }), order.spec);
  const { harm, notMeasurable } = harmValues(
    harmOf(
      { before: study, after, window: windowOf(run) },
      { light: run.some((r) => r.runner.changesLight) },
    ),
  );
  const judged = before.filter((f) => run.some(({ runner }) => isMendedBy(runner.treatment, f)));
  return {
    steps: run.map(({ runner: { treatment }, settings }) => ({ treatment, settings })),
    settings: run[run.length - 1].settings,
    gain: changesBetween(judged, found),
    harm,
    notMeasurable,
    worse: worseThan(
      before.filter((f) => !judged.includes(f)),
      found,
    ),
    secondsPerFrame: Number((seconds / (to - from)).toFixed(4)),
    file: order.out === undefined ? null : file,
  };
};

function* framesOf(after: ReadonlyMap<number, Picture>): Generator<Uint8Array> {
  for (const picture of after.values()) yield bytesOf(picture);
}

/** What a repair is to come to, as a share of the pass limit: what lies below is no more gain to a viewer. */
const TARGET_SHARE = 0.5;

const targetOf = ({ defect, reading }: ReadingChange, findings: readonly Finding[]): number =>
  TARGET_SHARE * (findings.find((f) => f.defect === defect && f.reading === reading)?.pass ?? 0);
