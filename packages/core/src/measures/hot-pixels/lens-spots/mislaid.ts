import { solveSymmetric } from '../../../maths/solve.js';

/** What the frames differ by beyond this, log of light, is something else than how they lie. */
const MOST = 0.1;
/** Places that are looked at, every so many columns and rows. */
const STEP = 2;
const PARAMETERS = 6;

/** A shift that changes evenly over the picture: across, then down; its middle, then what is added from one side to the other and from top to bottom. Pixels. */
export type Shift = Float64Array;
/** As they lie. */
export const NO_SHIFT: Shift = new Float64Array(PARAMETERS);

/**
 * How much better two frames could lie over one another: a sum of many registrations is some tenths of a pixel off, and
 * read-out shears it. The shift that explains most of their difference by the slopes of the picture (one step of Lucas and
 * Kanade 1981).
 * @param difference of the frames, `NaN` where nothing is known
 * @param samples of the later one
 * @param added to what is known of the shift already
 */
export const mislaid = (
  difference: Float32Array,
  samples: Float32Array,
  { width, height }: { readonly width: number; readonly height: number },
  added: Shift,
): Shift => {
  const normal = new Float64Array(PARAMETERS * PARAMETERS);
  const right = new Float64Array(PARAMETERS);
  const row = new Float64Array(PARAMETERS);
  /** How much the difference changes by each parameter at a place; `false` where nothing is known. */
  const changes = (x: number, y: number): boolean => {
    const i = y * width + x;
    const across = (samples[i + 1] - samples[i - 1]) / 2;
    const down = (samples[i + width] - samples[i - width]) / 2;
    if (Number.isNaN(across) || Number.isNaN(down)) return false;
    const [u, v] = [x / width - 0.5, y / height - 0.5];
    row[0] = across;
    row[1] = across * u;
    row[2] = across * v;
    row[3] = down;
    row[4] = down * u;
    row[5] = down * v;
    return true;
  };
  for (let y = 1; y < height - 1; y += STEP)
    for (let x = 1; x < width - 1; x += STEP) {
      const d = difference[y * width + x];
      if (Number.isNaN(d) || Math.abs(d) > MOST || !changes(x, y)) continue;
      for (let a = 0; a < PARAMETERS; a++) {
        right[a] += row[a] * d;
        for (let b = 0; b <= a; b++) normal[a * PARAMETERS + b] += row[a] * row[b];
      }
    }
  // A little weight against any shift: where nothing tells of it there is none.
  for (let a = 0; a < PARAMETERS; a++) normal[a * PARAMETERS + a] += 1e-3 + 1e-6 * normal[a * PARAMETERS + a];
  const shift = solveSymmetric(normal, right);
  return shift ? added.map((v, k) => v + shift[k]) : added;
};
