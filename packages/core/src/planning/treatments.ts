import { rationalToNumber, type Defect, type Finding, type Measurement, type Step } from '@bevrin/contract';

/** What a treatment says about one finding; order and priority are given by the plan. */
export type Proposal = Pick<Step, 'settings' | 'expect' | 'risks' | 'check' | 'cost' | 'because'> & {
  /** Chance that it brings the reading to its pass limit, 0–1. */
  readonly chance: number;
};

export interface Treatment {
  readonly treatment: Step['treatment'];
  readonly defect: Defect;
  /** Why it stands where it stands in the order of work. */
  readonly precedes: string;
  propose(finding: Finding & { value: number }, measurement: Measurement): Proposal | null;
}

/** Most frames that are averaged on each side; beyond it, movement smears and rendering takes too long. */
const MOST_FRAMES_EACH_SIDE = 7;
/** Share of the noise that a moderate averaging over space takes away before detail goes with it. */
const GENTLE_SPATIAL = 0.5;
/** What a good deflicker leaves of the swing. */
const DEFLICKER_LEAVES = 0.12;
const MOST_WINDOW_EACH_SIDE = 25;
const IRREGULAR_WINDOW = 6;

const round = (v: number, digits = 2): number => Number(v.toFixed(digits));

const correctPixels: Treatment = {
  treatment: 'correctPixels',
  defect: 'hotPixels',
  precedes: 'Faults sit still on the sensor only until the picture is moved, scaled or averaged.',
  propose: (finding, { readings: { hotPixels } }) => {
    if (hotPixels.state !== 'measured') return null;
    const { pixels } = hotPixels.values;
    return {
      settings: {
        positions: pixels.map((p) => [p.x, p.y]),
        radiusPx: 2,
        method: 'median of the surroundings in the same frame',
      },
      expect: { reading: finding.reading, unit: finding.unit, from: finding.value, to: 0 },
      risks: [
        'Where fine detail crosses a corrected place it is interpolated: a small smudge can crawl over it.',
      ],
      check: [
        'Enlarge the first three positions 6 times on a frame with a plain background.',
        'Look for new faults in the darkest shot: more of them show as the sensor warms up.',
      ],
      cost: { renderWeight: 0.2, artistMinutes: round(2 + pixels.length * 0.1, 0), cropPct: 0 },
      because: `${pixels.length} ${pixels.length === 1 ? 'place stands' : 'places stand'} out at the same position whatever the scene does.`,
      chance: 0.95,
    };
  },
};

const deflicker: Treatment = {
  treatment: 'deflicker',
  defect: 'flicker',
  precedes: 'Averaging noise over time takes steady light for granted.',
  propose: (finding, { clip, readings: { flicker } }) => {
    if (flicker.state !== 'measured') return null;
    const { frequencyHz, pattern, barsPerFrame, lampHz } = flicker.values;
    const rate = rationalToNumber(clip.frameRate);
    // One whole beat has to lie in the window of 2n + 1 frames.
    const each = frequencyHz
      ? Math.min(MOST_WINDOW_EACH_SIDE, Math.max(1, Math.ceil((rate / frequencyHz - 1) / 2)))
      : IRREGULAR_WINDOW;
    const lamp = lampHz[0];
    const bars = pattern === 'rolling-bars';
    return {
      settings: {
        framesEachSide: each,
        by: bars ? 'row bands' : 'whole frame',
        ...(bars ? { bandsOverHeight: Math.max(8, Math.ceil(8 * (barsPerFrame ?? 1))) } : {}),
        motionCompensation: !bars,
        strengthPct: 100,
      },
      expect: {
        reading: finding.reading,
        unit: finding.unit,
        from: finding.value,
        to: round(finding.value * DEFLICKER_LEAVES),
      },
      risks: [
        `Whatever moves far within ${2 * each + 1} frames can smear or trail.`,
        ...(bars ? ['A dark subject that fills a row band can be brightened with it.'] : []),
      ],
      check: [
        'Play a second around the fastest movement, before against after.',
        bars ? 'Look at plain walls for bars that are left.' : 'Look at plain bright areas for pumping.',
      ],
      cost: { renderWeight: round(1 + 0.15 * (2 * each + 1), 1), artistMinutes: 10, cropPct: 0 },
      because: lamp
        ? `The light swings at ${round(frequencyHz ?? 0, 2)} Hz: ${lamp.lightHz} Hz lamps beat so at ${round(rate, 3)} frames a second.`
        : frequencyHz
          ? `The light swings at ${round(frequencyHz, 2)} Hz; ${2 * each + 1} frames hold one whole beat.`
          : 'The light jumps without a rhythm.',
      chance: pattern === 'irregular' ? 0.7 : 0.85,
    };
  },
};

const reduceNoise: Treatment = {
  treatment: 'reduceNoise',
  defect: 'noise',
  precedes: 'It needs steady light, and everything that moves or scales the picture would spread the grain.',
  propose: (finding, { readings: { noise } }) => {
    if (noise.state !== 'measured') return null;
    const { temporalShare, lumaPct, cbPct, crPct, worstChannel, coarseShare } = noise.values;
    const target = finding.pass;
    const fixed = lumaPct * lumaPct * (1 - temporalShare);
    const moving = lumaPct * lumaPct * temporalShare;
    // N frames averaged leave 1/N of the power of what changes: sigma² = fixed + moving / N.
    const room = target * target - fixed;
    const frames = room > 0 ? moving / room : Infinity;
    const each = Math.min(MOST_FRAMES_EACH_SIDE, Math.max(1, Math.ceil((frames - 1) / 2)));
    const after = Math.sqrt(fixed + moving / (2 * each + 1));
    const spatial = after <= target ? 0 : Math.min(1, 1 - target / after);
    const left = after * (1 - Math.min(spatial, GENTLE_SPATIAL));
    const chroma = Math.max(cbPct ?? 0, crPct ?? 0);
    return {
      settings: {
        framesEachSide: each,
        lumaThresholdPct: round(3 * lumaPct),
        chromaThresholdPct: round(4 * chroma),
        spatialStrengthPct: round(100 * spatial, 0),
        worstChannel,
        grainBackPct: round(Math.min(0.3, target / 3)),
      },
      expect: { reading: finding.reading, unit: finding.unit, from: finding.value, to: round(left) },
      risks: [
        `Averaging ${2 * each + 1} frames leaves trails where movement is not followed.`,
        ...(spatial > 0 ? ['Averaging over space is needed too: fine texture and skin soften.'] : []),
        ...(coarseShare > 0.4 ? ['The grain is coarse: fine-grain settings will leave blotches.'] : []),
      ],
      check: [
        'Enlarge the shadows 4 times, after the grade.',
        `Look at the ${worstChannel} channel on its own.`,
        'Look for plastic surfaces; bring a little grain back if there are any.',
      ],
      cost: { renderWeight: round(2 + 1.2 * (2 * each + 1), 1), artistMinutes: 12, cropPct: 0 },
      because: `To bring ${round(lumaPct)} % to ${round(target)} % takes ${Number.isFinite(frames) ? `an average of ${Math.ceil(frames)} frames` : 'more than averaging frames: part of the noise stays in place'}.`,
      chance: left <= target ? 0.85 : 0.4,
    };
  },
};

/** Every treatment, in the order in which the work must be done. */
export const TREATMENTS_IN_ORDER: readonly Treatment[] = [correctPixels, deflicker, reduceNoise];
