import { z } from 'zod';
import { amount, Percent, Series } from '#terms';
import { describeDefect } from '../descriptor.js';
import { movedSpan } from '../extent.js';

/** Why a frame can be softer than those about it. */
export const SOFT_CAUSES = ['shake', 'focus', 'move'] as const;

/** A run of frames that are softer than those about it; both ends are inside. */
export const SoftFrames = z.strictObject({
  startFrame: z.int().nonnegative(),
  endFrame: z.int().nonnegative(),
  cause: z.enum(SOFT_CAUSES),
  recoverable: z.boolean(),
});
export type SoftFrames = z.infer<typeof SoftFrames>;

/** What is read of softness: blur in clip pixels (standard deviation), half contrast in cycles a pixel, and the size that the detail really has. */
export const SoftnessValues = z.strictObject({
  blurSigmaPx: z.number().nonnegative(),
  mtf50: z.number().nonnegative(),
  effectiveWidth: z.int().positive(),
  effectiveScale: z.number().min(0).max(1),
  /** What tells the scale: the trace of an interpolation, or edges, which say "at most". */
  scaleFrom: z.enum(['interpolation', 'edges']).default('edges'),
  /** Bright and dark lines beside edges, % of the step; `null` where too few edges have flat sides. */
  overshootPct: Percent.nullable().default(null),
  softFrames: z.array(SoftFrames),
  softFramesPct: Percent,
});
export type SoftnessValues = z.infer<typeof SoftnessValues>;

/** `detailPct`: fine detail of each frame over that of the sharpest frames about it. */
export const SoftnessSeries = z.strictObject({ detailPct: Series });

/** Softness: blur of the sharpest part of the picture, and frames softer than those about them. */
export const softness = describeDefect({
  defect: 'softness',
  name: 'Softness',
  shortName: 'Soft',
  values: SoftnessValues,
  series: SoftnessSeries,
  figures: {
    blurSigmaPx: {
      interval: { share: 0.1, amount: 0.05 },
      label: 'blur σ',
      unit: 'px',
      better: 'lower',
      finding: 'Softness',
      accuracy: { bar: { share: 0.25, amount: 0.2 }, goal: { share: 0.1, amount: 0.1 } },
    },
    mtf50: { label: 'half contrast at', unit: 'c/px', better: 'higher' },
    effectiveWidth: { label: 'width of its detail', unit: 'px', better: 'higher' },
    effectiveScale: {
      interval: { share: 0.01 },
      label: 'over the size delivered',
      unit: '',
      better: 'higher',
      words: ({ effectiveScale, scaleFrom }) =>
        `${scaleFrom === 'edges' && effectiveScale < 1 ? 'at most ' : ''}${Math.round(100 * effectiveScale)} %`,
      accuracy: { bar: { share: 0.15 }, goal: { share: 0.06 } },
    },
    overshootPct: {
      interval: { share: 0.2, amount: 1 },
      label: 'lines beside edges',
      unit: '%',
      better: 'lower',
      finding: 'Lines beside edges',
      words: ({ overshootPct }) =>
        overshootPct === null ? 'too few plain edges to tell' : amount(overshootPct, '%'),
      accuracy: { bar: { share: 0.3, amount: 2 }, goal: { share: 0.15, amount: 1 } },
    },
    softFramesPct: {
      label: 'soft frames',
      unit: '%',
      better: 'lower',
      finding: 'Soft frames',
      accuracy: { bar: { share: 0.25, amount: 1 }, goal: { share: 0.1, amount: 1 } },
    },
  },
  seriesLabels: { detailPct: { label: 'detail', unit: '%' } },
  needs: ['small', 'burst'],
  overrides: ['interest'],
  lies: 'everywhere',
  extent: ({ values: { softFrames } }, name) =>
    // The share of soft frames is a share of time already.
    name === 'softFramesPct' && softFrames.length > 0
      ? { startFrame: softFrames[0].startFrame, endFrame: softFrames[softFrames.length - 1].endFrame }
      : {},
  strength: ({ series }) => series.detailPct.map((v) => (v === null ? null : Math.max(0, 100 - v))),
  plainStrength: 60,
  moved: (values, by) => ({ ...values, softFrames: values.softFrames.map((s) => movedSpan(s, by)) }),
  load: async () => (await import('./softness.js')).softness,
});
