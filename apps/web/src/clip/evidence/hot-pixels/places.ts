import type { Measurement } from '@bevrin/contract';

/** A single place that was found at fault, with a number that stands on the picture and in the table. */
export interface Place {
  readonly number: number;
  readonly what: string;
  readonly x: number;
  readonly y: number;
  readonly radiusPx: number;
  readonly contrastPct: number;
  /** Frames in which it was seen, %; `null` for what lives in one frame. */
  readonly seenPct: number | null;
  /** The frame in which it lives; `null` for what is there all the time. */
  readonly frame: number | null;
  /** Where to look at it. */
  readonly lookAt: number;
}

const cache = new WeakMap<Measurement, readonly Place[]>();

/** Hot pixels, lens spots and specks of a clip, numbered in this order. */
export const markedPlaces = (measurement: Measurement): readonly Place[] => {
  const known = cache.get(measurement);
  if (known) return known;
  const { hotPixels } = measurement.readings;
  if (hotPixels.state === 'notMeasurable') return [];
  const { pixels, spots, specks } = hotPixels.values;
  const places: Omit<Place, 'number'>[] = [
    ...pixels.map((p) => ({
      what: `${p.kind}, ${p.channel}`,
      x: p.x,
      y: p.y,
      radiusPx: 0,
      contrastPct: p.contrastPct,
      seenPct: p.seenPct,
      frame: null,
      lookAt: 0,
    })),
    ...(spots ?? []).map((s) => ({
      what: 'lens spot',
      x: s.x,
      y: s.y,
      radiusPx: s.radiusPx,
      contrastPct: s.contrastPct,
      seenPct: 100,
      frame: null,
      lookAt: s.worstFrame,
    })),
    ...(specks?.frames ?? []).flatMap(({ frame, specks: found }) =>
      found.map((s) => ({
        what: 'speck',
        x: s.x,
        y: s.y,
        radiusPx: Math.sqrt(s.areaPx / Math.PI),
        contrastPct: s.contrastPct,
        seenPct: null,
        frame,
        lookAt: frame,
      })),
    ),
  ];
  const numbered = places.map((p, i) => ({ ...p, number: i + 1 }));
  cache.set(measurement, numbered);
  return numbered;
};
