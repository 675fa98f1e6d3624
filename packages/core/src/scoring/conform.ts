import { rationalToNumber, type Finding, type Measurement, type RequiredFacts } from '#document';

/** How badly a fact that cannot be lived with weighs, and one that costs quality only: severity, 0–100. */
const MUST = 80;
const SHOULD = 40;
/** Rates this near to each other are the same, frames a second. */
const SAME_RATE = 1e-3;
/** More frames than these are not listed in a sentence. */
const MOST_LISTED = 6;

/** One fact of a file against what is asked for. */
interface Fact {
  readonly reading: string;
  readonly unit: string;
  readonly value: number;
  readonly wanted: number;
  readonly met: boolean;
  /** Severity where it is not met. */
  readonly weighs: number;
  readonly because: string;
}

/** Sets one fact against the delivery; `null` where nothing is asked, or nothing is known of it. */
type Rule = (measurement: Measurement, asked: RequiredFacts) => Fact | null;

const said = (what: string, has: string, wants: string, met: boolean): string =>
  met ? `${what} is ${has}, as asked for.` : `${what} is ${has}; the delivery asks for ${wants}.`;

const pictureSize: Rule = ({ clip }, { width, height }) => {
  if (width === undefined || height === undefined) return null;
  const met = clip.width === width && clip.height === height;
  const because = said('The picture', `${clip.width}×${clip.height}`, `${width}×${height}`, met);
  return { reading: 'width', unit: 'px', value: clip.width, wanted: width, met, weighs: SHOULD, because };
};

const frameRate: Rule = ({ clip }, { frameRates }) => {
  if (!frameRates) return null;
  const rate = rationalToNumber(clip.frameRate);
  const rates = frameRates.map(rationalToNumber);
  const met = rates.some((r) => Math.abs(r - rate) < SAME_RATE);
  const wanted = rates.reduce((a, b) => (Math.abs(b - rate) < Math.abs(a - rate) ? b : a));
  const shown = (v: number): string => String(Number(v.toFixed(3)));
  const because = said('The frame rate', `${shown(rate)} fps`, `${rates.map(shown).join(', ')} fps`, met);
  const value = Number(rate.toFixed(3));
  return { reading: 'frameRate', unit: 'fps', value, wanted, met, weighs: MUST, because };
};

const evenRate: Rule = ({ clip }, { constantFrameRate }) => {
  if (!constantFrameRate) return null;
  const met = !clip.variableFrameRate;
  const because = said('The time between frames', met ? 'even' : 'uneven', 'even time', met);
  return {
    reading: 'variableFrameRate',
    unit: '',
    value: met ? 0 : 1,
    wanted: 0,
    met,
    weighs: MUST,
    because,
  };
};

const scan: Rule = ({ clip }, { scan: asked }) => {
  if (!asked) return null;
  const is = clip.scanSeen ?? clip.scan;
  const met = is === asked;
  const [value, wanted] = [is, asked].map((s) => (s === 'interlaced' ? 1 : 0));
  const because = said('The scan', is, asked, met);
  return { reading: 'interlaced', unit: '', value, wanted, met, weighs: MUST, because };
};

const orderOf = (order: 'top' | 'bottom' | null): string => (order ? `, ${order} field first` : '');

/** What the file says of its rows against what the picture shows: a difference is a finding, whatever is asked for. */
const scanTag: Rule = ({ clip }) => {
  const { scanSeen, fieldOrderSeen, fieldOrder } = clip;
  if (scanSeen === null) return null;
  const sameScan = scanSeen === clip.scan;
  const sameOrder = fieldOrder === null || fieldOrderSeen === null || fieldOrder === fieldOrderSeen;
  const met = sameScan && sameOrder;
  const [value, wanted] = [scanSeen, clip.scan].map((s) => (s === 'interlaced' ? 1 : 0));
  const because = met
    ? `The picture is ${scanSeen}${orderOf(fieldOrderSeen)}, as the file says.`
    : sameScan
      ? `The file says ${fieldOrder} field first; where things move the picture shows the ${fieldOrderSeen} field first: movement will judder.`
      : scanSeen === 'interlaced'
        ? `The file says progressive; where things move its rows are combed: it holds two fields a frame${orderOf(fieldOrderSeen)}.`
        : 'The file says interlaced; where things move its rows belong together: it holds whole frames.';
  // Whole frames that are called fields lose nothing yet; the other way round movement is torn.
  const weighs = !sameScan && scanSeen === 'progressive' ? SHOULD : MUST;
  return { reading: 'scanTag', unit: '', value, wanted, met, weighs, because };
};

const bitDepth: Rule = ({ clip }, { leastBitDepth }) => {
  if (leastBitDepth === undefined) return null;
  const met = clip.bitDepth >= leastBitDepth;
  const because = said('The depth', `${clip.bitDepth} bit`, `${leastBitDepth} bit or more`, met);
  return {
    reading: 'bitDepth',
    unit: 'bit',
    value: clip.bitDepth,
    wanted: leastBitDepth,
    met,
    weighs: SHOULD,
    because,
  };
};

const range: Rule = ({ clip }, { range: asked }) => {
  if (!asked) return null;
  const met = clip.range === asked;
  const [value, wanted] = [clip.range, asked].map((r) => (r === 'full' ? 1 : 0));
  const because = said('The range', clip.range, `${asked} range`, met);
  return { reading: 'range', unit: '', value, wanted, met, weighs: MUST, because };
};

const detail: Rule = ({ clip, readings: { softness } }, { leastScale }) => {
  if (leastScale === undefined || softness.state !== 'measured') return null;
  const { effectiveScale: value, effectiveWidth, scaleFrom } = softness.values;
  const met = value >= leastScale;
  const because = met
    ? `Its detail fills ${Math.round(100 * value)} % of the size.`
    : scaleFrom === 'interpolation'
      ? `Its samples carry the trace of an enlargement from ${effectiveWidth} px to ${clip.width}.`
      : `Its detail is at most that of a picture ${effectiveWidth} px wide, shown at ${clip.width}: it was blown up, or the lens drew no more.`;
  return { reading: 'effectiveScale', unit: '', value, wanted: leastScale, met, weighs: SHOULD, because };
};

const repeatedFrames: Rule = ({ clip }, { mostRepeatedPct }) => {
  const { duplicateFrames, frames, repeatEvery } = clip;
  if (mostRepeatedPct === undefined || duplicateFrames === null) return null;
  const pct = (100 * duplicateFrames) / frames;
  const met = pct <= mostRepeatedPct;
  const because = met
    ? `${duplicateFrames} frames are shown again.`
    : `${duplicateFrames} of ${frames} frames are shown again${repeatEvery ? `, one in every ${repeatEvery}` : ''}: movement will stutter.`;
  const value = Number(pct.toFixed(2));
  return { reading: 'repeatedPct', unit: '%', value, wanted: mostRepeatedPct, met, weighs: MUST, because };
};

const lostFrames: Rule = ({ clip: { lostBefore } }, { mostLost }) => {
  if (mostLost === undefined || lostBefore === null) return null;
  const value = lostBefore.length;
  const met = value <= mostLost;
  const listed = lostBefore.slice(0, MOST_LISTED).join(', ');
  const because = met
    ? 'No even move of the camera skips a frame.'
    : `The picture jumps at ${value === 1 ? 'frame' : 'frames'} ${listed}${value > MOST_LISTED ? ' and more' : ''}: a frame is missing before each.`;
  return { reading: 'lostFrames', unit: 'frames', value, wanted: mostLost, met, weighs: MUST, because };
};

const compressionBlocks: Rule = ({ clip: { blockiness: value } }, { mostBlocky }) => {
  if (mostBlocky === undefined || value === null) return null;
  const met = value <= mostBlocky;
  const because = met
    ? 'Compression left no blocks.'
    : `The picture steps ${Number(value.toFixed(2))} times as hard at the edges of 8×8 blocks as between them: it was compressed too hard.`;
  return { reading: 'blockiness', unit: '', value, wanted: mostBlocky, met, weighs: SHOULD, because };
};

const RULES: readonly Rule[] = [
  pictureSize,
  frameRate,
  evenRate,
  scan,
  scanTag,
  bitDepth,
  range,
  detail,
  repeatedFrames,
  lostFrames,
  compressionBlocks,
];

/**
 * Facts of the file against what the delivery asks for.
 * @param asked what is left out may be anything
 * @returns a finding for each fact that is asked for and known
 */
export const conformFindings = (measurement: Measurement, asked: RequiredFacts): Finding[] =>
  RULES.flatMap((rule) => {
    const fact = rule(measurement, asked);
    return fact ? [asFinding(fact, measurement.clip.frames)] : [];
  });

const asFinding = (
  { reading, unit, value, wanted, met, weighs, because }: Fact,
  frames: number,
): Finding => ({
  defect: 'conform',
  value,
  unit,
  reading,
  pass: wanted,
  fail: wanted,
  weight: 1,
  severity: met ? 0 : weighs,
  verdict: met ? 'pass' : weighs >= MUST ? 'fail' : 'marginal',
  interval: null,
  could: null,
  startFrame: 0,
  endFrame: frames - 1,
  sharePct: 100,
  areaPct: 100,
  regions: [],
  because,
});
