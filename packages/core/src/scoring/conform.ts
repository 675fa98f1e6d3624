import { rationalToNumber, type Finding, type Measurement, type RequiredFacts } from '#document';

/** How badly a fact that cannot be lived with weighs, and one that costs quality only. */
const MUST = 80;
const SHOULD = 40;

/** Facts of the file against what the delivery asks for, as findings; one for each fact that is asked for. */
export const conformFindings = (measurement: Measurement, asked: RequiredFacts): Finding[] => {
  const { clip, readings } = measurement;
  const rate = rationalToNumber(clip.frameRate);
  const found: Finding[] = [];
  const add = (
    reading: string,
    unit: string,
    value: number | null,
    wanted: number,
    met: boolean,
    bad: number,
    because: string,
  ): void => {
    found.push({
      defect: 'conform',
      value,
      unit,
      reading,
      pass: wanted,
      fail: wanted,
      weight: 1,
      severity: value === null || met ? 0 : bad,
      verdict: value === null ? 'incomplete' : met ? 'pass' : bad >= MUST ? 'fail' : 'marginal',
      startFrame: 0,
      endFrame: clip.frames - 1,
      sharePct: value === null ? 0 : 100,
      areaPct: value === null ? 0 : 100,
      regions: [],
      because,
    });
  };
  const said = (what: string, has: string, wants: string, met: boolean): string =>
    met ? `${what} is ${has}, as asked for.` : `${what} is ${has}; the delivery asks for ${wants}.`;
  if (asked.width !== undefined && asked.height !== undefined) {
    const met = clip.width === asked.width && clip.height === asked.height;
    add(
      'width',
      'px',
      clip.width,
      asked.width,
      met,
      SHOULD,
      said('The picture', `${clip.width}×${clip.height}`, `${asked.width}×${asked.height}`, met),
    );
  }
  if (asked.frameRates) {
    const rates = asked.frameRates.map(rationalToNumber);
    const met = rates.some((r) => Math.abs(r - rate) < 1e-3);
    const nearest = rates.reduce((a, b) => (Math.abs(b - rate) < Math.abs(a - rate) ? b : a));
    const shown = (v: number): string => String(Number(v.toFixed(3)));
    add(
      'frameRate',
      'fps',
      Number(rate.toFixed(3)),
      nearest,
      met,
      MUST,
      said('The frame rate', `${shown(rate)} fps`, `${rates.map(shown).join(', ')} fps`, met),
    );
  }
  if (asked.constantFrameRate)
    add(
      'variableFrameRate',
      '',
      clip.variableFrameRate ? 1 : 0,
      0,
      !clip.variableFrameRate,
      MUST,
      said(
        'The time between frames',
        clip.variableFrameRate ? 'uneven' : 'even',
        'even time',
        !clip.variableFrameRate,
      ),
    );
  if (asked.scan) {
    const met = clip.scan === asked.scan;
    add(
      'interlaced',
      '',
      clip.scan === 'interlaced' ? 1 : 0,
      asked.scan === 'interlaced' ? 1 : 0,
      met,
      MUST,
      said('The scan', clip.scan, asked.scan, met),
    );
  }
  if (asked.leastBitDepth !== undefined) {
    const met = clip.bitDepth >= asked.leastBitDepth;
    add(
      'bitDepth',
      'bit',
      clip.bitDepth,
      asked.leastBitDepth,
      met,
      SHOULD,
      said('The depth', `${clip.bitDepth} bit`, `${asked.leastBitDepth} bit or more`, met),
    );
  }
  if (asked.range) {
    const met = clip.range === asked.range;
    add(
      'range',
      '',
      clip.range === 'full' ? 1 : 0,
      asked.range === 'full' ? 1 : 0,
      met,
      MUST,
      said('The range', clip.range, `${asked.range} range`, met),
    );
  }
  if (asked.leastScale !== undefined && readings.softness.state === 'measured') {
    const { effectiveScale, effectiveWidth } = readings.softness.values;
    const met = effectiveScale >= asked.leastScale;
    add(
      'effectiveScale',
      '',
      effectiveScale,
      asked.leastScale,
      met,
      SHOULD,
      met
        ? `Its detail fills ${Math.round(100 * effectiveScale)} % of the size.`
        : `Its detail is that of a picture ${effectiveWidth} px wide, shown at ${clip.width}: it was blown up or is soft.`,
    );
  }
  if (asked.mostRepeatedPct !== undefined && clip.duplicateFrames !== null) {
    const pct = (100 * clip.duplicateFrames) / clip.frames;
    const met = pct <= asked.mostRepeatedPct;
    add(
      'repeatedPct',
      '%',
      Number(pct.toFixed(2)),
      asked.mostRepeatedPct,
      met,
      MUST,
      met
        ? `${clip.duplicateFrames} frames are shown again.`
        : `${clip.duplicateFrames} of ${clip.frames} frames are shown again${clip.repeatEvery ? `, one in every ${clip.repeatEvery}` : ''}: movement will stutter.`,
    );
  }
  if (asked.mostLost !== undefined && clip.lostBefore !== null) {
    const lost = clip.lostBefore.length;
    const met = lost <= asked.mostLost;
    add(
      'lostFrames',
      'frames',
      lost,
      asked.mostLost,
      met,
      MUST,
      met
        ? 'No even move of the camera skips a frame.'
        : `The picture jumps at ${clip.lostBefore.length === 1 ? 'frame' : 'frames'} ${clip.lostBefore.slice(0, 6).join(', ')}${lost > 6 ? ' and more' : ''}: a frame is missing before each.`,
    );
  }
  if (asked.mostBlocky !== undefined && clip.blockiness !== null) {
    const met = clip.blockiness <= asked.mostBlocky;
    add(
      'blockiness',
      '',
      clip.blockiness,
      asked.mostBlocky,
      met,
      SHOULD,
      met
        ? 'Compression left no blocks.'
        : `The picture steps ${Number(clip.blockiness.toFixed(2))} times as hard at the edges of 8×8 blocks as between them: it was compressed too hard.`,
    );
  }
  return found;
};
