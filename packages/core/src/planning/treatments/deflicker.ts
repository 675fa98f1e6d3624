import { rationalToNumber } from '#document';
import { expecting, numberIn, round, type Treatment } from '../treatment.js';

/** What a good deflicker leaves of the swing. */
const DEFLICKER_LEAVES = 0.12;

const MOST_WINDOW_EACH_SIDE = 25;

const IRREGULAR_WINDOW = 6;

/** Light is brought to its slow course, in the whole frame or row by row. */
export const deflicker: Treatment = {
  treatment: 'deflicker',
  defect: 'flicker',
  // A step or a ramp of the exposure is no swing: it is graded, if it was not meant.
  readings: ['depthPct', 'rmsPct'],
  precedes: 'Averaging noise over time takes steady light for granted.',
  revise: (settings, task, { clip, readings: { flicker } }) => {
    if (flicker.state !== 'measured') return null;
    const frames = 2 * Math.round(numberIn(settings, 'framesEachSide', IRREGULAR_WINDOW)) + 1;
    const { frequencyHz } = flicker.values;
    const perFrame = (Math.PI * (frequencyHz ?? 0)) / rationalToNumber(clip.frameRate);
    // The mean over a window keeps this share of a swing: nothing of one that it holds whole.
    const kept = frequencyHz
      ? Math.abs(Math.sin(frames * perFrame) / (frames * Math.sin(perFrame)))
      : 1 / Math.sqrt(frames);
    const strength = Math.min(1, numberIn(settings, 'strengthPct', 100) / 100);
    return {
      expect: expecting(task, task.value * (1 - strength * (1 - Math.max(DEFLICKER_LEAVES, kept)))),
      cost: { renderWeight: round(1 + 0.15 * frames, 1), artistMinutes: 10, cropPct: 0 },
    };
  },
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
      fallback: [
        'Two passes: a mild one without motion compensation, then a wide one with it, keep a hand or a turning head intact.',
        'Where a subject smears, mask it and treat the background alone.',
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
