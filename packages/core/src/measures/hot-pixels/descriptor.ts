import { z } from 'zod';
import { amount } from '#terms';
import { describeDefect, type Extent } from '../descriptor.js';
import { PixelFault, UncertainPlace } from './faulty-pixels/values.js';
import { LensSpot } from './lens-spots/values.js';
import { Specks } from './specks/values.js';

/** What is read of single places: of the sensor, of the lens, and of specks. Clip pixels; contrasts in % of range. */
export const HotPixelValues = z.strictObject({
  count: z.int().nonnegative(),
  perMegapixel: z.number().nonnegative(),
  pixels: z.array(PixelFault),
  /** Places that may be faults or the scene's own detail: they count for nothing. */
  uncertain: z.array(UncertainPlace).default([]),
  /** `null` where a soft spot of the lens looks like one of the scene: the camera stood still, or things lie at many depths. */
  spots: z.array(LensSpot).nullable(),
  spotCount: z.int().nonnegative().nullable(),
  /** `null` where frames could not be set against their neighbours. */
  specks: Specks.nullable(),
  specksPerFrame: z.number().nonnegative().nullable(),
});
export type HotPixelValues = z.infer<typeof HotPixelValues>;

/** Contrast from which on a spot draws the eye in full, %. */
const PLAIN_CONTRAST_PCT = 12;

/** The plainest of what a figure counts. */
const extentOf = ({ pixels, spots }: HotPixelValues, name: string): Extent => {
  const counted = name === 'spotCount' ? (spots ?? []) : name === 'count' ? pixels : [];
  const contrasts = counted.map((p) => Math.abs(p.contrastPct));
  return contrasts.length > 0 ? { contrast: Math.min(1, Math.max(...contrasts) / PLAIN_CONTRAST_PCT) } : {};
};

/** Specks in each frame, up to the last that has any. */
const specksOverTime = ({ specks }: HotPixelValues): number[] | null => {
  if (!specks?.frames.length) return null;
  const counts = new Array<number>(Math.max(...specks.frames.map((f) => f.frame)) + 1).fill(0);
  for (const { frame, specks: found } of specks.frames) counts[frame] = found.length;
  return counts;
};

const places = (count: number): string => (count === 0 ? 'none' : amount(count, 'places'));

/** Single places at fault: of the sensor, of the lens, and what is there for a frame. */
export const hotPixels = describeDefect({
  defect: 'hotPixels',
  name: 'Hot pixels',
  shortName: 'Hot px',
  values: HotPixelValues,
  series: z.strictObject({}),
  figures: {
    count: {
      label: 'places',
      unit: 'places',
      better: 'lower',
      finding: 'Hot pixels',
      words: ({ count }) => String(count),
    },
    perMegapixel: {
      label: 'per megapixel',
      unit: '',
      better: 'lower',
      finding: 'Hot pixels per megapixel',
    },
    uncertain: {
      label: 'not to be told from the scene',
      unit: 'places',
      better: null,
      words: ({ uncertain }) => places(uncertain.length),
    },
    spotCount: {
      label: 'lens spots',
      unit: 'spots',
      better: 'lower',
      finding: 'Lens spots',
      words: ({ spots }) =>
        spots === null ? 'camera too still, or scene too deep, to tell' : String(spots.length),
    },
    specksPerFrame: {
      interval: { share: 0.2, amount: 0.1 },
      label: 'specks',
      unit: 'a frame',
      better: 'lower',
      finding: 'Specks',
      words: ({ specks }) =>
        specks === null
          ? 'too few frames, or too much that moves, to tell'
          : `${amount(specks.perFrame)} a frame`,
      accuracy: { bar: { share: 0.4 }, goal: { share: 0.15 } },
    },
  },
  alsoFigures: ({ specks }) =>
    specks?.frames.length
      ? [
          ['median area of a speck', amount(specks.medianAreaPx, 'px²')],
          ['frames with specks', String(specks.frames.length)],
        ]
      : [],
  seriesLabels: {},
  needs: ['small', 'burst'],
  overrides: [],
  lies: 'inPoints',
  extent: ({ values }, name) => extentOf(values, name),
  strength: ({ values }) => specksOverTime(values),
  plainStrength: 6,
  worstFrame: ({ values }) => values.spots?.[0]?.worstFrame ?? null,
  moved: (values, by) => ({
    ...values,
    spots: values.spots && values.spots.map((s) => ({ ...s, worstFrame: s.worstFrame + by })),
    specks: values.specks && {
      ...values.specks,
      frames: values.specks.frames.map((f) => ({ ...f, frame: f.frame + by })),
    },
  }),
  load: async () => (await import('./hot-pixels.js')).hotPixels,
});
