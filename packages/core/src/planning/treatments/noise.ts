import { expecting, numberIn, round, type Treatment } from '../treatment.js';

/** Most frames that are averaged on each side; beyond it, movement smears and rendering takes too long. */
const MOST_FRAMES_EACH_SIDE = 7;
/** Share of the noise that a moderate averaging over space takes away before detail goes with it. */
const GENTLE_SPATIAL = 0.5;

export const reduceNoise: Treatment = {
  treatment: 'reduceNoise',
  defect: 'noise',
  precedes: 'It needs steady light, and everything that moves or scales the picture would spread the grain.',
  revise: (settings, task, { readings: { noise } }) => {
    if (noise.state !== 'measured') return null;
    const { temporalShare } = noise.values;
    const frames = 2 * Math.round(numberIn(settings, 'framesEachSide', 1)) + 1;
    const spatial = Math.min(GENTLE_SPATIAL, numberIn(settings, 'spatialStrengthPct', 0) / 100);
    const power = task.value ** 2 * (1 - temporalShare + temporalShare / frames);
    return {
      expect: expecting(task, round(Math.sqrt(power) * (1 - spatial))),
      cost: { renderWeight: round(2 + 1.2 * frames, 1), artistMinutes: 12, cropPct: 0 },
    };
  },
  propose: (finding, { readings: { noise } }) => {
    if (noise.state !== 'measured') return null;
    const { temporalShare, lumaPct, cbPct, crPct, worstChannel, coarseShare } = noise.values;
    const { target } = finding;
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
      fallback: [
        'If it looks like plastic, halve the luma strength and keep the chroma strength.',
        'Treat it after the grade instead of before: edges stay, some grain stays too.',
      ],
      cost: { renderWeight: round(2 + 1.2 * (2 * each + 1), 1), artistMinutes: 12, cropPct: 0 },
      because: `To bring ${round(lumaPct)} % to ${round(target)} % takes ${Number.isFinite(frames) ? `an average of ${Math.ceil(frames)} frames` : 'more than averaging frames: part of the noise stays in place'}.`,
      chance: left <= target ? 0.85 : 0.4,
    };
  },
};
