/** A figure of harm: how much, from how much evidence, and where it is worst. */
export type HarmFigure =
  | {
      readonly value: number;
      readonly tiles: number;
      readonly frames: number;
      /** Middle of the worst tile, clip pixels, and its frame of the clip; `null` where no place stands out. */
      readonly worst: { readonly x: number; readonly y: number; readonly frame: number } | null;
    }
  | { readonly value: null; readonly reason: string };

/** A figure that the clip cannot show. */
export const notMeasurable = (reason: string): HarmFigure => ({ value: null, reason });
