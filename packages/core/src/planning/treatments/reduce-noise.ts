import type { Step } from '#document';
import type { NoiseValues } from '../../measures/noise/descriptor.js';
import { expecting, numberIn, round, type Treatment } from '../treatment.js';
import { grainFor } from './grain.js';

/** Most frames that are averaged on each side; beyond it, movement smears and rendering takes too long. */
const MOST_FRAMES_EACH_SIDE = 7;

/** Share of the noise that a moderate averaging over space takes away before detail goes with it. */
const GENTLE_SPATIAL = 0.5;

/**
 * What settings leave of noise: N frames averaged leave 1/N of the power of what changes and all of what stays put,
 * averaging over space takes its share of the amplitude, and a share of the original brings back as much of what was taken.
 * @param sigmaPct of the channel that is judged, % of range
 * @param temporalShare share of its power that changes from frame to frame, 0–1
 * @returns standard deviation, % of range
 */
const sigmaLeft = (sigmaPct: number, temporalShare: number, settings: Step['settings']): number => {
  const frames = 2 * Math.round(numberIn(settings, 'framesEachSide', 1)) + 1;
  const spatial = Math.min(1, numberIn(settings, 'spatialStrengthPct', 0) / 100);
  const averaged = sigmaPct * Math.sqrt(1 - temporalShare + temporalShare / frames) * (1 - spatial);
  return averaged + Math.min(1, numberIn(settings, 'originalBackPct', 0) / 100) * (sigmaPct - averaged);
};

const costOf = (settings: Step['settings']): Step['cost'] => ({
  renderWeight: round(2 + 1.2 * (2 * Math.round(numberIn(settings, 'framesEachSide', 1)) + 1), 1),
  artistMinutes: 12,
  cropPct: 0,
});

/** Noise is averaged over time, and what is left over space. */
export const reduceNoise: Treatment = {
  treatment: 'reduceNoise',
  defect: 'noise',
  precedes: 'It needs steady light, and everything that moves or scales the picture would spread the grain.',
  revise: (settings, task, { readings: { noise } }) =>
    noise.state === 'measured'
      ? {
          expect: expecting(task, sigmaLeft(task.value, noise.values.temporalShare, settings)),
          cost: costOf(settings),
        }
      : null,
  propose: (finding, { readings: { noise } }) => {
    if (noise.state !== 'measured') return null;
    const { temporalShare, lumaPct, cbPct, crPct, coarseShare } = noise.values;
    const { target, value } = finding;
    // What may be left, so that it is at the target with the grain that is brought back at the end.
    const aim = Math.sqrt(target * target - grainFor(target) ** 2);
    const fixed = value * value * (1 - temporalShare);
    const room = aim * aim - fixed;
    const needed = room > 0 ? Math.ceil((value * value * temporalShare) / room) : Infinity;
    const each = Math.min(MOST_FRAMES_EACH_SIDE, Math.max(1, Math.ceil((needed - 1) / 2)));
    const frames = 2 * each + 1;
    const averaged = sigmaLeft(value, temporalShare, { framesEachSide: each });
    const spatial = Math.min(GENTLE_SPATIAL, Math.max(0, 1 - aim / averaged));
    const settings = {
      framesEachSide: each,
      lumaStrengthPct: round(3 * lumaPct),
      chromaStrengthPct: round(4 * Math.max(cbPct ?? 0, crPct ?? 0)),
      // Rounded up: a limit is met, not nearly met.
      spatialStrengthPct: Math.min(100 * GENTLE_SPATIAL, Math.ceil(100 * spatial)),
      worstChannel: judgedChannel(finding.reading, noise.values),
    };
    const left = sigmaLeft(value, temporalShare, settings);
    const reached = left <= aim * REACHED;
    return {
      settings,
      expect: expecting(finding, left),
      risks: [
        `Averaging ${frames} frames leaves trails where movement is not followed.`,
        ...(settings.spatialStrengthPct > 0
          ? ['Averaging over space is needed too: fine texture and skin soften.']
          : []),
        ...(coarseShare > 0.4 ? ['The grain is coarse: fine-grain settings will leave blotches.'] : []),
      ],
      check: [
        'Enlarge the shadows 4 times, after the grade.',
        `Look at the ${settings.worstChannel} channel on its own.`,
        'Look for plastic surfaces; if there are any, more must stay.',
      ],
      fallback: [
        'If it looks like plastic, halve the luma strength and keep the chroma strength.',
        'Treat it after the viewing transform instead of before: edges stay, some grain stays too.',
      ],
      cost: costOf(settings),
      because: `${why(value, target, needed, frames, settings.spatialStrengthPct)}${reached ? '' : ` It comes to ${round(left)} %, not to the limit: more would take detail with it.`}`,
      chance: reached ? 0.85 : 0.4,
    };
  },
};

/** An expectation this far above its target has reached it: figures are rounded. */
const REACHED = 1.02;

/** The channel that a reading is about; the worst one where it is about all of them. */
const judgedChannel = (reading: string, { worstChannel }: NoiseValues): string =>
  /^(red|green|blue)Pct$/.exec(reading)?.[1] ?? worstChannel;

const why = (value: number, target: number, needed: number, frames: number, spatialPct: number): string => {
  const goal = `To bring ${round(value)} % to ${round(target)} %`;
  if (!Number.isFinite(needed))
    return `${goal} takes more than averaging frames: part of the noise stays in place.`;
  if (needed <= frames) return `${goal} takes an average of ${frames} frames.`;
  return `${goal} by averaging alone would take ${needed} frames; ${frames} are averaged, and ${spatialPct} % is taken over space.`;
};
