import { solveSymmetric } from '../../../maths/solve.js';

/** What the frames differ by beyond this, log of light, is something else than how they lie. */
const MOST = 0.18;
/** Places that are looked at: every so many columns and rows, */
export const MISLAID_STEP = 2;
/** and the first of each. */
export const MISLAID_FROM = 1;
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
  for (let y = MISLAID_FROM; y < height - 1; y += MISLAID_STEP) {
    const row = rowSums(difference, samples, width, y);
    const v = y / height - 0.5;
    // A parameter is a slope times 1, u or v; v is the same all along a row.
    for (let a = 0; a < PARAMETERS; a++) {
      const [slope, by] = [a < 3 ? 0 : 1, a % 3];
      right[a] += by === 2 ? v * row.right[2 * slope] : row.right[2 * slope + by];
      for (let b = 0; b <= a; b++) {
        const [other, at] = [b < 3 ? 0 : 1, b % 3];
        const times = (by === 2 ? v : 1) * (at === 2 ? v : 1);
        const power = Number(by === 1) + Number(at === 1);
        normal[a * PARAMETERS + b] += times * row.slopes[3 * (slope + other) + power];
      }
    }
  }
  // A little weight against any shift: where nothing tells of it there is none.
  for (let a = 0; a < PARAMETERS; a++) normal[a * PARAMETERS + a] += 1e-3 + 1e-6 * normal[a * PARAMETERS + a];
  const shift = solveSymmetric(normal, right);
  return shift ? added.map((v, k) => v + shift[k]) : added;
};

/** Sums over the places of a row, for slopes across (0) and down (1). */
interface RowSums {
  /** Of two slopes' product times u⁰, u¹, u²: across with across, across with down, down with down. */
  readonly slopes: Float64Array;
  /** Of the difference times a slope times u⁰ and u¹: across, then down. */
  readonly right: Float64Array;
}

/** About 25 operations a place. */
const rowSums = (difference: Float32Array, samples: Float32Array, width: number, y: number): RowSums => {
  let [aa, aau, aauu] = [0, 0, 0];
  let [ad, adu, aduu] = [0, 0, 0];
  let [dd, ddu, dduu] = [0, 0, 0];
  let [ra, rau, rd, rdu] = [0, 0, 0, 0];
  for (let x = MISLAID_FROM; x < width - 1; x += MISLAID_STEP) {
    const i = y * width + x;
    const d = difference[i];
    const across = (samples[i + 1] - samples[i - 1]) / 2;
    const down = (samples[i + width] - samples[i - width]) / 2;
    // Nothing is known where any of them is no number.
    if (!(Math.abs(d) <= MOST) || across !== across || down !== down) continue;
    const u = x / width - 0.5;
    const xx = across * across;
    const xy = across * down;
    const yy = down * down;
    aa += xx;
    aau += xx * u;
    aauu += xx * u * u;
    ad += xy;
    adu += xy * u;
    aduu += xy * u * u;
    dd += yy;
    ddu += yy * u;
    dduu += yy * u * u;
    ra += d * across;
    rau += d * across * u;
    rd += d * down;
    rdu += d * down * u;
  }
  return {
    slopes: Float64Array.of(aa, aau, aauu, ad, adu, aduu, dd, ddu, dduu),
    right: Float64Array.of(ra, rau, rd, rdu),
  };
};
