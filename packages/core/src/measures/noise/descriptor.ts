import { z } from 'zod';
import { amount, Percent, Share } from '#terms';
import { describeDefect, type Figure } from '../descriptor.js';

/** Channels that noise is told of. */
export const CHANNELS = ['luma', 'cb', 'cr', 'red', 'green', 'blue'] as const;
export type Channel = (typeof CHANNELS)[number];

/** Channels as people write them. */
export const CHANNEL_NAMES: Readonly<Record<Channel, string>> = {
  luma: 'luma',
  cb: 'Cb',
  cr: 'Cr',
  red: 'red',
  green: 'green',
  blue: 'blue',
};

/** `few` marks a level that so few places show that its figure is a hint, not a measure. */
const NoiseCurve = z.array(
  z.strictObject({ levelPct: z.number(), sigmaPct: Percent, few: z.boolean().optional() }),
);

/** What is read of noise: standard deviations in % of range, shares of its power of 0–1. */
export const NoiseValues = z.strictObject({
  lumaPct: Percent,
  cbPct: Percent.nullable(),
  crPct: Percent.nullable(),
  redPct: Percent.nullable(),
  greenPct: Percent.nullable(),
  bluePct: Percent.nullable(),
  snrDb: z.number(),
  worstChannel: z.enum(CHANNELS),
  fineShare: Share,
  mediumShare: Share,
  coarseShare: Share,
  temporalShare: Share,
  /** Noise of luma against its level; and of the other channels, where the clip has them. */
  curve: NoiseCurve,
  channelCurves: z.partialRecord(z.enum(CHANNELS), NoiseCurve).optional(),
  shadowSigmaPct: Percent.nullable(),
  /** Whether few places of the picture are that dark: then it is a hint. */
  shadowFew: z.boolean().default(false),
  /** Noise of luma after the viewing transform; absent without one. */
  gradedLumaPct: Percent.optional(),
});
export type NoiseValues = z.infer<typeof NoiseValues>;

type Key = keyof NoiseValues;

const share = (label: string, key: Key): Figure<NoiseValues> => ({
  label,
  unit: '',
  better: null,
  words: (values) => `${Math.round(100 * Number(values[key]))} %`,
});

const channel = (name: Exclude<Channel, 'luma'>): Figure<NoiseValues> => ({
  label: `${CHANNEL_NAMES[name]} σ`,
  unit: '%',
  better: 'lower',
  finding: `Noise, ${CHANNEL_NAMES[name]}`,
  accuracy: { bar: { share: 0.2 }, goal: { share: 0.08 } },
  interval: { share: 0.028, amount: 0.01 },
});

/** Noise: what differs from frame to frame, and what stays put, once the picture is taken out. */
export const noise = describeDefect({
  defect: 'noise',
  name: 'Noise',
  shortName: 'Noise',
  values: NoiseValues,
  series: z.strictObject({}),
  figures: {
    lumaPct: {
      label: 'luma σ',
      unit: '%',
      better: 'lower',
      finding: 'Noise',
      accuracy: { bar: { share: 0.15 }, goal: { share: 0.05 } },
      interval: { share: 0.02, amount: 0.008 },
    },
    snrDb: { label: 'signal to noise', unit: 'dB', better: 'higher' },
    cbPct: channel('cb'),
    crPct: channel('cr'),
    redPct: channel('red'),
    greenPct: channel('green'),
    bluePct: channel('blue'),
    worstChannel: {
      label: 'worst channel',
      unit: '',
      better: null,
      words: ({ worstChannel }) => CHANNEL_NAMES[worstChannel],
    },
    shadowSigmaPct: {
      label: 'in the shadows σ',
      unit: '%',
      better: 'lower',
      finding: 'Noise in the shadows',
      words: ({ shadowSigmaPct, shadowFew }) =>
        shadowSigmaPct === null
          ? 'none'
          : `${amount(shadowSigmaPct, '%')}${shadowFew ? ', from few dark places' : ''}`,
    },
    gradedLumaPct: {
      label: 'after viewing transform',
      unit: '%',
      better: 'lower',
      finding: 'Noise after the viewing transform',
    },
    temporalShare: share('changes with time', 'temporalShare'),
    fineShare: share('fine, about 1 px', 'fineShare'),
    mediumShare: share('medium, about 2 px', 'mediumShare'),
    coarseShare: share('coarse, 4 px and more', 'coarseShare'),
  },
  seriesLabels: {},
  needs: ['burst'],
  overrides: ['noisePatch', 'viewing'],
  lies: 'everywhere',
  load: async () => (await import('./noise.js')).noise,
});
