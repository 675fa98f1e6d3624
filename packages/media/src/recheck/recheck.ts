import { basename } from 'node:path';
import {
  HarmValues,
  isSameRate,
  printable,
  rationalToNumber,
  type Alignment,
  type DeliverySpec,
  type Measurement,
  type Overrides,
  type Recheck,
  type Step,
} from '@bevrin/contract';
import {
  carriedOverrides,
  combined,
  commonFrames,
  cropOf,
  faultsIn,
  findingsOf,
  harmOf,
  isInPlace,
  judgeRecheck,
  lumaScale,
  planFor,
  registered,
  rounded,
  scaleOf,
  Study,
  turnOf,
  type HarmedWindow,
  type Picture,
  type Asked,
} from '@bevrin/core';
import { measureClip } from '../measure-clip.js';
import { probeClip, type ProbedClip } from '../probe.js';
import { openSource } from '../source.js';
import { alignClips, offsetAt, placementOf, type FoundAlignment, type Lies, type Shelves } from './align.js';
import { bytesOf, readPictures } from '../trial/pictures.js';
import { Shelf } from './shelf.js';

/** What is to be proved. */
export interface RecheckOrder {
  readonly spec: DeliverySpec;
  /** The steps that were to be done; those that are proposed for the original where they are not said. */
  readonly steps?: readonly Pick<Step, 'treatment' | 'defect' | 'expect'>[];
  /** What a technician decided about how the original is measured. */
  readonly overrides?: Overrides;
  /** What was measured of the original under these, where that is known already. */
  readonly measured?: Measurement;
  readonly signal?: AbortSignal;
  /** Told the share that is done, 0–1, and what is being done. */
  readonly progress?: (share: number, what: string) => void;
}

/** What came of a recheck: its document, and what was measured of the repaired file, where it was. */
export interface Rechecked {
  readonly recheck: Recheck;
  readonly measurement: Measurement | null;
  /** What was decided on the original, as it held for that. */
  readonly under: Overrides;
  /** How the frames lie on each other; `null` where they do not. */
  readonly alignment: FoundAlignment | null;
}

/**
 * Proves a repaired file against its original: lays them on each other, measures both, and what the repair harmed.
 * @throws {ClipUnreadable} {@link DecoderStopped} {@link ToolMissing}; the signal's reason
 */
export const recheckClips = async (
  originalPath: string,
  repairedPath: string,
  order: RecheckOrder,
): Promise<Rechecked> => {
  const { spec, overrides = {}, signal, progress = () => undefined } = order;
  const [original, repaired] = await Promise.all(
    [originalPath, repairedPath].map(async (path) => probeClip(await openSource(path))),
  );
  const names = namesOf(originalPath, repairedPath, spec);
  const rates = [original, repaired].map(({ facts }) => facts.frameRate);
  if (!isSameRate(rates[0], rates[1])) {
    const [was, is] = rates.map((rate) => rounded(rationalToNumber(rate), 3));
    return refused(
      names,
      'frameRate',
      `It runs at ${is} frames a second, the original at ${was}: frames cannot be set against each other. Have it rendered at the rate of the original.`,
    );
  }
  progress(0, 'laying both on each other');
  const shelves: Shelves = { original: new Shelf(original, signal), repaired: new Shelf(repaired, signal) };
  const found = await alignClips(shelves, signal);
  if (!found)
    return refused(
      names,
      'anotherClip',
      'This does not look like the original from any frame on: it is another clip, or nothing of it is left.',
    );
  progress(0.25, 'measuring the repaired file');
  const carried = carriedOverrides(overrides, found, original.facts, repaired.facts);
  const [was, is] = await Promise.all([
    order.measured ??
      measureClip(originalPath, { overrides: partOf(overrides, found, original, repaired), signal }),
    measureClip(repairedPath, {
      overrides: carried,
      signal,
      progress: (share) => progress(0.25 + 0.4 * share, 'measuring the repaired file'),
    }),
  ]);
  const steps = order.steps ?? planFor(findingsOf(was, spec), was).steps;
  progress(0.65, 'looking for harm');
  const windows = await harmedWindows(shelves, found, { steps, faults: faultsIn(was) }, signal, (share) =>
    progress(0.65 + 0.35 * share, 'looking for harm'),
  );
  const alignment = alignmentOf(found, original, repaired, windows);
  const all = combined(windows.map((w) => w.harmed));
  const proof = judgeRecheck({
    original: was,
    repaired: is,
    spec,
    steps,
    alignment,
    times: found.times,
    windows: windows.map((w) => w.harmed),
    combined: all,
  });
  return { recheck: { ...names, alignment, ...proof }, measurement: is, under: carried, alignment: found };
};

type Names = Pick<Recheck, 'schema' | 'original' | 'repaired' | 'spec'>;

const namesOf = (original: string, repaired: string, { id, name, version }: DeliverySpec): Names => ({
  schema: 'bevrin.recheck/1',
  original: printable(basename(original)),
  repaired: printable(basename(repaired)),
  spec: { id, name, version },
});

/** A file that cannot be set against the original, and why. */
const refused = (names: Names, what: string, because: string): Rechecked => ({
  recheck: {
    ...names,
    ...NOTHING,
    newFindings: [{ what, verdict: 'fail', because, frame: null }],
    because: [because],
    reasons: [{ about: `new ${what}`, weighs: 'fail', says: because, frames: null, at: null }],
  },
  measurement: null,
  under: {},
  alignment: null,
});

const alignmentOf = (
  { offset, placement, steadied, likeness }: FoundAlignment,
  original: ProbedClip,
  repaired: ProbedClip,
  windows: readonly Looked[],
): Alignment => ({
  frameOffset: offset,
  scale: rounded(scaleOf(placement), 5),
  cropPct: rounded(cropOf(placement, original.facts, repaired.facts), 3),
  rotationDeg: rounded(turnOf(placement), 3),
  shiftPx: { x: rounded(placement.dx, 2), y: rounded(placement.dy, 2) },
  steadied,
  levelShiftPct: rounded(levelShiftIn(windows), 3),
  confidence: rounded(Math.max(0, Math.min(1, (likeness - 0.5) * 2)), 2),
});

const NOTHING = {
  alignment: null,
  readings: [],
  harm: HarmValues.parse(Object.fromEntries(Object.keys(HarmValues.shape).map((name) => [name, null]))),
  notMeasurable: {},
  harmJudged: [],
  verdict: 'sendBack',
} satisfies Partial<Recheck>;

/** The original as far as the repaired file shows it: what is not there is not held against it. */
const partOf = (
  overrides: Overrides,
  { offset }: FoundAlignment,
  original: ProbedClip,
  repaired: ProbedClip,
): Overrides => {
  const own = overrides.range ?? { startFrame: 0, endFrame: original.facts.frames - 1 };
  const startFrame = Math.max(own.startFrame, offset);
  const endFrame = Math.min(own.endFrame, offset + repaired.facts.frames - 1);
  const whole = startFrame === 0 && endFrame >= original.facts.frames - 1;
  return whole || endFrame < startFrame ? overrides : { ...overrides, range: { startFrame, endFrame } };
};

/**
 * A frame of a repaired file as it lies over the original: its size, depth and range; where it shows nothing, the original.
 * @param frame of the original
 * @returns the bytes of its planes, one after the other; `null` where the repaired file does not show that frame
 */
export const alignedFrame = async (
  originalPath: string,
  repairedPath: string,
  lies: Lies,
  frame: number,
): Promise<Uint8Array | null> => {
  const [original, repaired] = await Promise.all(
    [originalPath, repairedPath].map(async (path) => probeClip(await openSource(path))),
  );
  // Behind a frame that is gone the offset is another: the frame whose own offset leads here.
  const own = [lies.offset, ...lies.times.map((t) => offsetAt(lies, t.frame ?? 0))].map((o) => frame - o);
  const at = own.find((f) => f >= 0 && f < repaired.facts.frames && f + offsetAt(lies, f) === frame);
  if (at === undefined) return null;
  const [[was], [is]] = await Promise.all([readPictures(original, frame, 1), readPictures(repaired, at, 1)]);
  if (!was || !is) return null;
  const placement = placementOf(lies, was, is, original, repaired);
  return bytesOf(
    registered({ picture: is, clip: repaired.facts }, placement, { picture: was, clip: original.facts }),
  );
};

/** Frames on each side that a repair may have looked at, and how far apart two frames are whose grain is compared. */
const WINDOW = 3;
const APART = 2 * WINDOW + 1;
/** About so many places are looked at, and no nearer to each other than this, seconds. */
const MOST_WINDOWS = 14;
const EVERY_SEC = 0.25;

interface Looked {
  readonly harmed: HarmedWindow;
  readonly levelShift: number;
}

/** What was to be done to the original, and the faults of its sensor. */
interface Known {
  readonly steps: readonly Pick<Step, 'treatment'>[];
  readonly faults: Asked['faults'];
}

/** Measures what the repair harmed about several frames spread over the clip. */
const harmedWindows = async (
  shelves: Shelves,
  found: FoundAlignment,
  known: Known,
  signal: AbortSignal | undefined,
  progress: (share: number) => void,
): Promise<Looked[]> => {
  const [original, repaired] = [shelves.original.clip, shelves.repaired.clip];
  const [first, last] = commonFrames(original.facts.frames, repaired.facts.frames, found.offset);
  const seconds = (last - first) / rationalToNumber(original.facts.frameRate);
  const many = Math.max(2, Math.min(MOST_WINDOWS, Math.floor(seconds / EVERY_SEC)));
  const reach = APART + 1;
  const looked: Looked[] = [];
  for (let i = 0; i < many; i++) {
    signal?.throwIfAborted();
    const middle = first + Math.floor(((i + 0.5) * (last - first)) / many);
    const start = Math.max(first, Math.min(last - reach, middle - (reach >> 1)));
    const one = await lookedAt(shelves, found, known, start, Math.min(last - start, reach));
    if (one) looked.push(one);
    progress((i + 1) / many);
  }
  return looked;
};

const lookedAt = async (
  shelves: Shelves,
  found: FoundAlignment,
  { steps, faults }: Known,
  start: number,
  count: number,
): Promise<Looked | null> => {
  const [original, repaired] = [shelves.original.clip, shelves.repaired.clip];
  const at = start + offsetAt(found, start);
  const before = Math.min(at, WINDOW + 1);
  const [was, is] = await Promise.all([
    shelves.original.frames(at - before, before + count + WINDOW + 1),
    shelves.repaired.frames(start, count),
  ]);
  const study = new Study({ clip: original.facts, firstFrame: at - before, pictures: was });
  const after = new Map<number, Picture>();
  let moved = found.steadied;
  for (const j of new Set([0, Math.min(count - 1, APART)])) {
    const own = was[before + j];
    if (!own || !is[j]) continue;
    const placement = placementOf(found, own, is[j], original, repaired);
    moved ||= !isInPlace(placement, original.facts, repaired.facts);
    after.set(
      before + j,
      registered({ picture: is[j], clip: repaired.facts }, placement, { picture: own, clip: original.facts }),
    );
  }
  if (after.size === 0) return null;
  const has = (name: Step['treatment']): boolean => steps.some((s) => s.treatment === name);
  const harm = harmOf(
    { before: study, after, window: WINDOW },
    {
      light: has('deflicker'),
      structure: has('reduceMoire') || has('deband') || has('correctSpots'),
      moved,
      rows: has('straightenRows'),
      cropPct: cropOf(found.placement, original.facts, repaired.facts),
      faults,
    },
  );
  const [index] = after.keys();
  return {
    harmed: { frame: start, harm },
    levelShift: shiftBetween(was[index], after.get(index)!, original),
  };
};

/** The middle of how much brighter the places of a picture are, % of the range. */
const shiftBetween = (was: Picture, is: Picture, { facts }: ProbedClip): number => {
  const { span } = lumaScale(facts);
  const [a, b] = [was.planes[0].samples, is.planes[0].samples];
  const apart: number[] = [];
  for (let i = 0; i < a.length; i += 97) apart.push(b[i] - a[i]);
  apart.sort((x, y) => x - y);
  // Codes are whole: the mean of the middle half tells parts of them.
  const inside = apart.slice(apart.length >> 2, apart.length - (apart.length >> 2));
  return (100 * inside.reduce((s, v) => s + v, 0)) / Math.max(1, inside.length) / span;
};

const levelShiftIn = (windows: readonly Looked[]): number =>
  windows.reduce((s, w) => s + w.levelShift, 0) / Math.max(1, windows.length);
