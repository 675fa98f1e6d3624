import { writeFile } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import {
  HarmValues,
  type DeliverySpec,
  type Finding,
  type Measurement,
  type TrialMesh,
  type TrialRun,
  type ViewingTransform,
} from '@bevrin/contract';
import {
  changesBetween,
  faultsIn,
  findingsOf,
  harmOf,
  harmValues,
  isMendedBy,
  MESH,
  Study,
  worseThan,
  type Picture,
  type RunningTreatment,
} from '@bevrin/core';
import { encodeFrames } from '../encode.js';
import { ClipUnreadable } from '../errors.js';
import { measureFrames } from '../measure-clip.js';
import type { ProbedClip } from '../probe.js';
import { windowOf, type TriedStep } from './order.js';
import { bytesOf, readPictures } from './pictures.js';

/** Share of a run that is done when its frames are treated. */
export const TREATED_AT = 0.5;

/** What every run of a trial is made on. */
export interface RunGround {
  readonly clip: ProbedClip;
  readonly frames: Frames;
  readonly measurement: Measurement;
  readonly spec: DeliverySpec;
  readonly viewing?: ViewingTransform;
}

/** The frames that are treated, with those about them. */
export interface Frames {
  readonly study: Study;
  /** Of the first and behind the last frame that is treated, in the study. */
  readonly from: number;
  readonly to: number;
}

/**
 * Reads the frames of a range, and as many about them as the runs look at on each side.
 * @throws {ClipUnreadable}
 */
export const framesFor = async (
  clip: ProbedClip,
  range: { startFrame: number; endFrame: number },
  window: number,
  signal?: AbortSignal,
): Promise<Frames> => {
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

/** The frames of the range, treated by each step after the other. */
const treated = async (
  run: readonly TriedStep[],
  { frames, measurement, viewing }: RunGround,
  signal: AbortSignal | undefined,
  tell: (share: number) => void,
): Promise<Treated> => {
  const { from, to } = frames;
  const started = performance.now();
  const before = prepared(run.slice(0, -1), { frames, measurement, viewing });
  const { runner, settings } = run[run.length - 1];
  const own = runner.begin(before.study, settings, measurement, viewing);
  let spent = performance.now() - started;
  const after = new Map<number, Picture>();
  for (let i = from; i < to; i++) {
    signal?.throwIfAborted();
    const began = performance.now();
    after.set(i, own.treat(i));
    spent += performance.now() - began;
    tell((i + 1 - from) / (to - from));
    // Others have their turn between two frames.
    await new Promise((resume) => setImmediate(resume));
  }
  return { after, chain: [...before.chain, own], seconds: spent / 1000 };
};

/** Runs of a trial that share their work, frame by frame: each is treated for all of them before the next. */
export interface SharedRuns {
  /** One frame as each of the runs makes it, and what it would have taken each of them alone, s. */
  readonly treat: (index: number) => {
    readonly pictures: readonly Picture[];
    readonly seconds: readonly number[];
  };
}

/**
 * Begins runs of one step that differ in what their treatment can do on its way; of many that share their work a few, where
 * there is not memory for all, down to one.
 * @returns `null` where they share nothing
 */
export const sharedRuns = (
  runs: readonly (readonly TriedStep[])[],
  { frames: { study }, measurement, viewing }: Pick<RunGround, 'frames' | 'measurement' | 'viewing'>,
): SharedRuns | null => {
  if (runs.some((run) => run.length > 1)) return null;
  const settings = runs.map(([step]) => step.settings);
  const clock = (): number => performance.now();
  const running = runs[0][0].runner.beginTogether?.(study, settings, measurement, viewing, clock);
  if (!running) return null;
  const spared = running.map(() => 0);
  return {
    treat: (index) => {
      const seconds: number[] = [];
      const pictures = running.map((own, k) => {
        const began = clock();
        const picture = own.treat(index);
        const { sparedMs = 0 } = own;
        seconds.push((clock() - began + sparedMs - spared[k]) / 1000);
        spared[k] = sparedMs;
        return picture;
      });
      return { pictures, seconds };
    },
  };
};

/** Bytes of treated frames that are held at once. */
const MOST_BYTES = 520e6;

/** How many runs of a trial there is memory for at once. */
export const runsAtOnce = ({ frames: { study, from, to } }: Pick<RunGround, 'frames'>): number => {
  const bytes = study.sequence.pictures[from].planes.reduce((sum, p) => sum + p.samples.byteLength, 0);
  return Math.max(1, Math.floor(MOST_BYTES / (bytes * (to - from))));
};

interface Prepared {
  readonly study: Study;
  readonly chain: readonly RunningTreatment[];
}

/** What the steps before the last one make of the frames: once for all runs of a trial that share them. */
const PREPARED = new WeakMap<Frames, { readonly steps: string; readonly prepared: Prepared }>();

/** Every step but the last treats all frames that are there, for those after it to look at. */
const prepared = (
  run: readonly TriedStep[],
  { frames, measurement, viewing }: Pick<RunGround, 'frames' | 'measurement' | 'viewing'>,
): Prepared => {
  if (run.length === 0) return { study: frames.study, chain: [] };
  const steps = JSON.stringify(run.map(({ runner, settings }) => [runner.treatment, settings]));
  const known = PREPARED.get(frames);
  if (known?.steps === steps) return known.prepared;
  let { study } = frames;
  const chain = run.map(({ runner, settings }) => {
    const running = runner.begin(study, settings, measurement, viewing);
    const pictures = Array.from({ length: study.count }, (_, i) => running.treat(i));
    study = new Study({ ...study.sequence, pictures });
    return running;
  });
  PREPARED.set(frames, { steps, prepared: { study, chain } });
  return { study, chain };
};

/** The frames of a range as a run made them. */
export interface Treated {
  readonly after: ReadonlyMap<number, Picture>;
  /** The treatments that made them, in their order; of runs that shared their work none: they move nothing and have no masks. */
  readonly chain: readonly RunningTreatment[];
  /** That it took; of runs that shared work, that it takes alone. */
  readonly seconds: number;
}

/** Treated frames back where they came from, and how much of each axis was given up, %. */
const setBack = ({ after, chain }: Treated): { after: ReadonlyMap<number, Picture>; cropPct: number } => ({
  after: new SetBack(after, (i, picture) => chain.reduceRight((p, { undo }) => undo?.(i, p) ?? p, picture)),
  cropPct: 100 * (1 - chain.reduce((kept, { cropPct = 0 }) => kept * (1 - cropPct / 100), 1)),
});

/** Frames that are set back when they are asked for: harm looks at a few of them. */
class SetBack extends Map<number, Picture> {
  private readonly made = new Set<number>();

  constructor(
    frames: ReadonlyMap<number, Picture>,
    private readonly back: (index: number, picture: Picture) => Picture,
  ) {
    super(frames);
  }

  override get(index: number): Picture | undefined {
    const picture = super.get(index);
    if (!picture || this.made.has(index)) return picture;
    const back = this.back(index, picture);
    this.made.add(index);
    this.set(index, back);
    return back;
  }
}

/** A run with what was found on its frames; what it gained is told by what was found before. */
export interface MadeRun {
  readonly run: Omit<TrialRun, 'gain' | 'worse'>;
  readonly found: readonly Finding[];
}

/** What a run gained, and what got worse by it. */
export const setAgainst = ({ run, found }: MadeRun, before: readonly Finding[]): TrialRun => {
  const judged = before.filter((f) => run.steps.some(({ treatment }) => isMendedBy(treatment, f)));
  return {
    ...run,
    gain: changesBetween(judged, found),
    worse: worseThan(
      before.filter((f) => !judged.includes(f)),
      found,
    ),
  };
};

const BEING_MADE = 'The other frames are being treated, then all of them are measured.';

/**
 * One frame of a run, in the middle of the range: where it is worst. Nothing of it is measured.
 * @returns the run without any figure, and which frame of the clip it is
 */
export const firstPicture = async (
  run: readonly TriedStep[],
  range: { readonly startFrame: number; readonly endFrame: number },
  file: string,
  ground: RunGround,
): Promise<{ run: TrialRun; frame: number }> => {
  const { frames, clip } = ground;
  const index = frames.from + ((frames.to - frames.from) >> 1);
  const began = performance.now();
  const { runner, settings } = run[run.length - 1];
  const before = prepared(run.slice(0, -1), ground);
  const running = runner.begin(before.study, settings, ground.measurement, ground.viewing);
  await writeFrames([bytesOf(running.treat(index))], clip, file);
  const none = Object.keys(HarmValues.shape);
  return {
    frame: range.startFrame + index - frames.from,
    run: {
      steps: run.map((s) => ({ treatment: s.runner.treatment, settings: s.settings })),
      settings,
      gain: [],
      harm: HarmValues.parse(Object.fromEntries(none.map((name) => [name, null]))),
      notMeasurable: Object.fromEntries(none.map((name) => [name, BEING_MADE])),
      worstAt: {},
      worse: [],
      secondsPerFrame: Number(((performance.now() - began) / 1000).toFixed(4)),
      file,
      mask: null,
      mesh: null,
    },
  };
};

/** A run that is to be made, and where its frames are kept; `null` where nobody looks at them. */
export interface WantedRun {
  readonly run: readonly TriedStep[];
  readonly file: string | null;
}

/**
 * Treats the frames of a run, keeps them, and measures them and what was harmed.
 * @param tell told the share of it that is done
 */
export const makeRun = async (
  wanted: WantedRun,
  ground: RunGround,
  tell: (share: number) => void,
  signal?: AbortSignal,
): Promise<MadeRun> => {
  const made = await treated(wanted.run, ground, signal, (share) => tell(share * TREATED_AT));
  return measuredRun(wanted, ground, made, signal);
};

/** Keeps the frames that a run made, and measures them and what was harmed. */
export const measuredRun = async (
  { run, file }: WantedRun,
  ground: RunGround,
  made: Treated,
  signal?: AbortSignal,
): Promise<MadeRun> => {
  const { clip, frames, spec, measurement } = ground;
  const { study, from, to } = frames;
  const { seconds } = made;
  const bytes = [...made.after.values()].map(bytesOf);
  // They are measured as they are at hand; only what is looked at afterwards is written.
  const [measured, beside] = await Promise.all([
    measureFrames(clip, bytes, { signal }),
    file !== null
      ? writeFrames(bytes, clip, file).then(() => writeBeside(made, frames, clip, file))
      : { mask: null, mesh: null },
  ]);
  const found = findingsOf(measured, spec);
  const { after, cropPct } = setBack(made);
  const { harm, notMeasurable, worstAt } = harmValues(
    harmOf(
      { before: study, after, window: windowOf(run) },
      {
        light: run.some((r) => r.runner.changesLight),
        structure: run.some((r) => r.runner.takesStructure),
        moved: made.chain.some((r) => r.undo !== undefined),
        cropPct,
        faults: faultsIn(measurement),
      },
    ),
  );
  return {
    found,
    run: {
      steps: run.map(({ runner: { treatment }, settings }) => ({ treatment, settings })),
      settings: run[run.length - 1].settings,
      harm,
      notMeasurable,
      worstAt,
      secondsPerFrame: Number((seconds / (to - from)).toFixed(4)),
      file,
      ...beside,
    },
  };
};

const writeFrames = async (
  frames: readonly Uint8Array[],
  { facts, format }: ProbedClip,
  file: string,
): Promise<void> => {
  await encodeFrames(
    {
      width: facts.width,
      height: facts.height,
      frameRate: facts.frameRate,
      pixelFormat: format.planar,
      colour: facts,
    },
    'ffv1',
    frames,
    file,
  );
};

/** Writes what a treatment says of its places or of how it moved the picture; a chain says it of its last step. */
const writeBeside = async (
  { after, chain }: Treated,
  { study, from }: Frames,
  { facts }: ProbedClip,
  file: string,
): Promise<Pick<TrialRun, 'mask' | 'mesh'>> => {
  const last = chain.at(-1);
  const beside = (name: string): string =>
    join(dirname(file), basename(file).replace(/^run-(\d+)\.mkv$/, name));
  let mask: string | null = null;
  let mesh: string | null = null;
  if (last?.mask) {
    mask = beside('mask-$1.mkv');
    const { width, height } = study.sequence.pictures[from].planes[0];
    const masks = (function* (): Generator<Uint8Array> {
      for (const i of after.keys()) yield last.mask!(i);
    })();
    await encodeFrames(
      { width, height, frameRate: facts.frameRate, pixelFormat: 'gray' },
      'ffv1',
      masks,
      mask,
    );
  }
  if (last?.mesh) {
    mesh = beside('mesh-$1.json');
    const net: TrialMesh = { ...MESH, frames: [...after.keys()].map((i) => last.mesh!(i)) };
    await writeFile(mesh, JSON.stringify(net));
  }
  return { mask, mesh };
};
