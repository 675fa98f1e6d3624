import type { HarmValues } from './gain-and-harm.js';
import { descriptorOf, SUBJECT_NAMES, type Subject, type Verdict } from './defects.js';

/** Facts of the file, by the names that a person knows. */
const CONFORM_NAMES: Readonly<Record<string, string>> = {
  width: 'Picture size',
  frameRate: 'Frame rate',
  variableFrameRate: 'Even frame rate',
  interlaced: 'Scan',
  scanTag: 'Scan as the file says it',
  bitDepth: 'Bit depth',
  range: 'Range',
  effectiveScale: 'Detail for its size',
  repeatedPct: 'Repeated frames',
  lostFrames: 'Lost frames',
  blockiness: 'Compression blocks',
};

/** What names a reading wherever one is judged, expected or waived. */
export interface ReadingName {
  readonly defect: Subject;
  readonly reading: string;
}

/** Whether another is of the same reading. */
export const isOfReading =
  ({ defect, reading }: ReadingName) =>
  (other: ReadingName): boolean =>
    other.defect === defect && other.reading === reading;

/** What a finding, a limit or a step is about, by the name that a person knows. */
export const findingName = ({ defect, reading }: ReadingName): string =>
  (defect === 'conform' ? CONFORM_NAMES[reading] : descriptorOf(defect).figures[reading]?.finding) ??
  SUBJECT_NAMES[defect];

/** Whether a finding passes because its reading said nothing: it is not within its limits, it is unknown. */
export const passedUnseen = ({
  defect,
  value,
  verdict,
}: {
  readonly defect: Subject;
  readonly value: number | null;
  readonly verdict: Verdict;
}): boolean => defect !== 'conform' && value === null && verdict === 'pass';

/** `Shake, noise` of Shake and Noise: names as the words of one sentence, the first as it stands. */
export const asWords = ([first, ...others]: readonly string[]): string =>
  [first, ...others.map((name) => name.toLowerCase())].join(', ');

/** Settings in the order in which they are read, with their units. */
const SETTINGS: Record<string, readonly [name: string, unit: string]> = {
  framesEachSide: ['frames each side', ''],
  by: ['by', ''],
  bandsOverHeight: ['bands over the height', ''],
  motionCompensation: ['motion compensation', ''],
  strengthPct: ['strength', '%'],
  worstChannel: ['worst channel', ''],
  lumaStrengthPct: ['luma strength', '%'],
  chromaStrengthPct: ['chroma strength', '%'],
  spatialStrengthPct: ['averaging over space', '%'],
  keepDetailPct: ['detail that must stay', '%'],
  redPct: ['of red', '%'],
  greenPct: ['of green', '%'],
  bluePct: ['of blue', '%'],
  finePct: ['of fine noise', '%'],
  mediumPct: ['of medium noise', '%'],
  coarsePct: ['of coarse noise', '%'],
  work: ['work', ''],
  grainBackPct: ['grain to bring back', '%'],
  positions: ['positions', ''],
  radiusPx: ['radius', 'px'],
  method: ['by', ''],
  gainPct: ['gain', '%'],
  featherPx: ['feather', 'px'],
  frames: ['frames', ''],
  largestAreaPx: ['largest area', 'px²'],
  neighboursEachSide: ['neighbours each side', ''],
  readoutMs: ['read-out', 'ms'],
  rowTimeUs: ['time of a row', 'µs'],
  readoutPctOfFrame: ['of the frame interval', '%'],
  smoothingFrames: ['smoothing over', 'frames'],
  motionModel: ['follow', ''],
  cropPct: ['crop', '%'],
  keepMove: ['keep the move', ''],
  regions: ['regions', ''],
  keepFrom: ['kept from the regions', ''],
  originalBackPct: ['original mixed back in', '%'],
  spareMotionPct: ['spare what moves, from', '%'],
  spareEdgesPct: ['spare edges, share', '%'],
  passes: ['passes', ''],
  enlarge: ['enlarge to the full size', ''],
  follow: ['follow the ground', ''],
  first: ['first', ''],
  chromaRadiusPx: ['chroma radius', 'px'],
  lumaRadiusPx: ['luma radius', 'px'],
  thresholdPct: ['threshold', '%'],
  ditherPct: ['dither', '%'],
  workingBits: ['work at', 'bits'],
  nativeScale: ['true size over delivered', ''],
  restorePct: ['detail brought back', '%'],
  enlargedBy: ['was enlarged by', ''],
  sharePct: ['share of the noise', '%'],
  lumaPct: ['noise of luma', '%'],
  chromaPct: ['noise of colour', '%'],
  sizePx: ['size of the grain', 'px'],
  byLevel: ['noise by level', ''],
  fact: ['fact', ''],
  dropEvery: ['drop one frame in', ''],
  toRate: ['to', 'fps'],
  deinterlace: ['de-interlace', ''],
  readAs: ['read the rows as', ''],
  firstField: ['first field', ''],
};
const ORDER = Object.keys(SETTINGS);

/** A plan that was approved by an earlier version may call the strength for luma or chroma otherwise. */
const keyNow = (key: string): string => key.replace(/^(luma|chroma)[A-Z][a-z]+Pct$/, '$1StrengthPct');

/** A setting's name and unit, as pages and sheets say them. */
export const settingWords = (key: string): readonly [name: string, unit: string] =>
  SETTINGS[keyNow(key)] ?? [key, ''];

/** Where a setting stands among others. */
export const settingOrder = (key: string): number => ORDER.indexOf(keyNow(key));

/** Figures of harm in the order in which they are read: what each says, and its unit. */
export const HARM_NAMES: readonly (readonly [name: keyof HarmValues, words: string, unit: string])[] = [
  ['detailKeptPct', 'fine detail kept', '%'],
  ['mediumDetailKeptPct', 'medium detail kept', '%'],
  ['takenStructurePct', 'picture in what was taken', '%'],
  ['smearPct', 'smeared where things move', '%'],
  ['ghostPct', 'of another frame shines through', '%'],
  ['bendPx', 'lines bent', 'px'],
  ['haloPct', 'halo', '%'],
  ['grainEvenness', 'evenness of the grain', ''],
  ['cropPct', 'picture lost', '%'],
  ['levelShiftPct', 'light changed', '%'],
  ['cbShiftPct', 'Cb changed', '%'],
  ['crShiftPct', 'Cr changed', '%'],
];
