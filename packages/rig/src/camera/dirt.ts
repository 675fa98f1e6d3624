/** A soft shadow of dirt on the lens; it stays where it is whatever the camera does. */
export interface LensSpot {
  readonly x: number;
  readonly y: number;
  readonly radiusPx: number;
  /** Share of the light it keeps back in its middle; below 0 it adds. */
  readonly density: number;
}

/** Dirt, an insect or a bird that is there for one frame. */
export interface Speck {
  readonly frame: number;
  readonly x: number;
  readonly y: number;
  readonly radiusPx: number;
  /** Linear light of it. */
  readonly level: number;
}

/** Lays the spots and this frame's specks over an exposure: linear light, interleaved, changed in place. */
export const throughDirt = (
  light: Float32Array,
  width: number,
  height: number,
  frame: number,
  spots: readonly LensSpot[],
  specks: readonly Speck[],
): void => {
  const around = (
    x: number,
    y: number,
    reach: number,
    change: (i: number, distance: number) => void,
  ): void => {
    for (let v = Math.max(0, Math.floor(y - reach)); v <= Math.min(height - 1, Math.ceil(y + reach)); v++)
      for (let u = Math.max(0, Math.floor(x - reach)); u <= Math.min(width - 1, Math.ceil(x + reach)); u++)
        change(3 * (v * width + u), Math.hypot(u - x, v - y));
  };
  for (const { x, y, radiusPx, density } of spots)
    around(x, y, 2.5 * radiusPx, (i, distance) => {
      const k = 1 - density * Math.exp(-((distance / radiusPx) ** 4));
      for (let c = 0; c < 3; c++) light[i + c] *= k;
    });
  for (const { x, y, radiusPx, level } of specks.filter((s) => s.frame === frame))
    around(x, y, radiusPx + 1, (i, distance) => {
      const cover = Math.max(0, Math.min(1, radiusPx - distance + 0.5));
      for (let c = 0; c < 3; c++) light[i + c] += (level - light[i + c]) * cover;
    });
};
