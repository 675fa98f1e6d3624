import { MAD_TO_SIGMA, median, TUKEY } from '../../maths/robust.js';
import { solveBanded } from '../../maths/solve.js';
import { ROW_BANDS } from '../../motion/camera-fit.js';
import type { CameraStep } from '../../motion/motion-analysis.js';
import { vertexOf } from '../../maths/vertex.js';

/** Knots of the camera curve lie this far apart, frames: just under one, so that it can bend once between two. */
const KNOT = 0.9;
/** Read-outs that are tried, and how finely about the best of them. */
const COARSE = 0.05;
const FINE = 0.01;
/** Keeps the curve quiet where no row looks; far below what the rows say. */
const STIFFNESS = 1e-4;
/** Row bands that err as one: what moves, or bends, covers several. */
const ROWS_ERR_TOGETHER = 4;
/** Frames that are fitted at once. */
const STRETCH = 240;
/** An equation ties two places of the curve, each to four knots, one frame apart. */
const BAND = 6;

/** A displacement of one row band between two neighbouring frames. */
interface BandShift {
  /** Frame that it ends in, counted in the stretch. */
  readonly frame: number;
  /** Where the band lies in the frame before and in this one, 0 to 1 from the first row to the last. */
  readonly from: number;
  readonly to: number;
  readonly dx: number;
  readonly dy: number;
  readonly known: number;
}

/** The read-out of a sensor, and how sure it is. */
export interface Readout {
  readonly fraction: number;
  /** Standard error of the fraction, from how much worse the fit gets beside it. */
  readonly error: number;
  /** RMS of what the curve leaves unexplained, clip pixels, for each read-out that was tried. */
  readonly candidates: readonly { readonly fraction: number; readonly residualPx: number }[];
  /** Least residual over the median one: near 0 where the answer is plain, near 1 where none stands out. */
  readonly plainness: number;
  /** RMS of the row displacement about the middle row, clip pixels. */
  readonly wobblePx: number;
  /** How far the last row lies to the right of the first, for each frame of each stretch. */
  readonly skew: readonly { readonly frame: number; readonly px: number }[];
}

/**
 * Finds the read-out time of the sensor: the displacements of row bands are one smooth camera curve looked at at
 * times that are shifted by row × read-out; for each candidate a cubic B-spline is fitted to all of them, and the one
 * with the least residual is the answer.
 * @param shots steps of each shot, from its second frame on, and the shot's first frame
 * @param height of the picture, clip pixels
 * @returns `null` where too little was seen
 */
export const findReadout = (
  shots: readonly { readonly steps: readonly (CameraStep | null)[]; readonly startFrame: number }[],
  height: number,
): Readout | null => {
  const stretches = shots.flatMap(({ steps, startFrame }) => stretchesOf(steps, startFrame, height));
  const total = stretches.reduce((n, s) => n + s.shifts.length, 0);
  if (total < 12 * ROW_BANDS) return null;
  let weights: Float64Array[] = stretches.map((s) => Float64Array.from(s.shifts, (v) => v.known));
  const residualOf = (fraction: number): number => {
    let [sum, weight] = [0, 0];
    stretches.forEach((stretch, k) => {
      sum += fitCurve(stretch, fraction, weights[k]).unexplained;
      for (const w of weights[k]) weight += w;
    });
    return Math.sqrt(sum / Math.max(1e-9, weight));
  };
  const grid = Array.from({ length: Math.round(1 / COARSE) + 1 }, (_, i) => i * COARSE);
  const best = (fractions: readonly number[]): { fraction: number; all: number[] } => {
    const all = fractions.map(residualOf);
    return { fraction: fractions[all.indexOf(Math.min(...all))], all };
  };
  let found = best(grid);
  for (let pass = 0; pass < 2; pass++) {
    const { fraction } = found;
    weights = stretches.map((stretch, k) =>
      trust(stretch, squaresOff(stretch, fraction, fitCurve(stretch, fraction, weights[k]).curve)),
    );
    found = best(grid);
  }
  const candidates = grid.map((fraction, i) => ({ fraction, residualPx: found.all[i] }));
  const near = Array.from({ length: 2 * Math.round(COARSE / FINE) + 1 }, (_, i) =>
    Math.max(0, Math.min(1, found.fraction - COARSE + i * FINE)),
  );
  const fine = best(near);
  const at = fine.all.indexOf(Math.min(...fine.all));
  const fraction = Math.max(0, Math.min(1, fine.fraction + FINE * vertex(fine.all, at)));
  const plainness = Math.min(...fine.all) / Math.max(1e-9, median(found.all));
  const error = errorOf(near, fine.all, weights);
  return { fraction, error, candidates, plainness, ...shapeOf(stretches, fraction, weights) };
};

/**
 * Least squares: where the sum of squares, in units of its least mean, is higher by one, lies one standard error. Rows of
 * one frame err together, so that only a share of them counts.
 * @param residuals RMS of both directions at each of the fractions
 */
const errorOf = (
  fractions: readonly number[],
  residuals: readonly number[],
  weights: readonly Float64Array[],
): number => {
  const at = residuals.indexOf(Math.min(...residuals));
  const squares = residuals.map((r) => r * r);
  const bends = fractions.flatMap((f, i) =>
    Math.abs(f - fractions[at]) >= COARSE / 2 ? [(squares[i] - squares[at]) / (f - fractions[at]) ** 2] : [],
  );
  const count = weights.reduce((n, w) => n + w.reduce((m, v) => m + (v > 0 ? 1 : 0), 0), 0);
  const bend = Math.max(1e-12, median(bends));
  return Math.min(1, Math.sqrt(squares[at] / (bend * Math.max(1, (2 * count) / ROWS_ERR_TOGETHER))));
};

interface Stretch {
  readonly startFrame: number;
  readonly frames: number;
  readonly shifts: readonly BandShift[];
}

const stretchesOf = (
  steps: readonly (CameraStep | null)[],
  startFrame: number,
  height: number,
): Stretch[] => {
  const stretches: Stretch[] = [];
  for (let from = 0; from + 8 <= steps.length; from += STRETCH) {
    const part = steps.slice(from, from + STRETCH + 1);
    const shifts: BandShift[] = [];
    part.forEach((step, frame) => {
      if (!step || frame === 0) return;
      for (let b = 0; b < ROW_BANDS; b++) {
        const [dx, dy] = [step.bands[2 * b], step.bands[2 * b + 1]];
        if (Number.isNaN(dx) || Number.isNaN(dy)) continue;
        const at = (b + 0.5) / ROW_BANDS;
        const known = Math.min(step.known[2 * b], step.known[2 * b + 1]);
        shifts.push({ frame, from: at, to: at + dy / height, dx, dy, known });
      }
    });
    if (shifts.length >= 4 * ROW_BANDS)
      stretches.push({ startFrame: startFrame + from, frames: part.length, shifts });
  }
  return stretches;
};

/** Bisquare weights by the distance from the curve. */
const trust = ({ shifts }: Stretch, squares: Float64Array): Float64Array => {
  const sigma = MAD_TO_SIGMA * Math.sqrt(Math.max(1e-12, median(squares)));
  return squares.map((q, i) => {
    const u = Math.sqrt(q) / (TUKEY * sigma);
    return u < 1 ? shifts[i].known * (1 - u * u) ** 2 : 0;
  });
};

/** Where the least of sampled values lies, from the sample of number `at`. */
const vertex = (values: readonly number[], at: number): number => {
  if (at === 0 || at === values.length - 1) return 0;
  return vertexOf(values[at - 1], values[at], values[at + 1], 'trough');
};

interface Curve {
  readonly x: Float64Array;
  readonly y: Float64Array;
}

/** Knots that a displacement hangs on, one after the other: those of its start and of its end, less than two apart. */
const TERMS = BAND + 1;
const shares = new Float64Array(TERMS);
const spline = new Float64Array(4);

/** A curve with what its normal equations say of it. */
interface Fitted {
  readonly curve: Curve;
  /** Weighted sum of the squares that it leaves unexplained, clip pixels. */
  readonly unexplained: number;
}

const fitCurve = ({ frames, shifts }: Stretch, fraction: number, weights: Float64Array): Fitted => {
  const knots = Math.ceil((frames + 1) / KNOT) + 4;
  const bands = Array.from({ length: BAND + 1 }, () => new Float64Array(knots));
  const [right, below] = [new Float64Array(knots), new Float64Array(knots)];
  for (let i = 0; i < knots; i++) bands[0][i] = LEAST_DIAGONAL;
  for (let i = 1; i + 1 < knots; i++)
    for (let a = 0; a < 3; a++)
      for (let b = 0; b <= a; b++) bands[a - b][i - 1 + a] += STIFFNESS * SECOND[a] * SECOND[b];
  let power = 0;
  for (let k = 0; k < shifts.length; k++) {
    const w = weights[k];
    if (w === 0) continue;
    const { dx, dy } = shifts[k];
    const first = equation(shifts[k], fraction);
    power += w * (dx * dx + dy * dy);
    for (let a = 0; a < TERMS; a++) {
      const v = w * shares[a];
      if (v === 0) continue;
      right[first + a] += v * dx;
      below[first + a] += v * dy;
      for (let b = 0; b <= a; b++) bands[a - b][first + a] += v * shares[b];
    }
  }
  const curve = { x: right.slice(), y: below.slice() };
  solveBanded(bands, [curve.x, curve.y]);
  const unexplained = power - explained(right, curve.x) - explained(below, curve.y);
  return { curve, unexplained: Math.max(0, unexplained) };
};

const SECOND = [1, -2, 1] as const;
/** Keeps the equations solvable where no row looks and nothing bends. */
const LEAST_DIAGONAL = 1e-9;

/** What a curve takes from the weighted sum of squares, and what its own stiffness keeps it from taking. */
const explained = (right: Float64Array, curve: Float64Array): number => {
  let sum = 0;
  for (let i = 0; i < curve.length; i++) {
    sum += curve[i] * (right[i] + LEAST_DIAGONAL * curve[i]);
    if (i === 0 || i + 1 === curve.length) continue;
    const bend = curve[i - 1] - 2 * curve[i] + curve[i + 1];
    sum += STIFFNESS * bend * bend;
  }
  return sum;
};

/** Square of the distance of each displacement from a curve, clip pixels. */
const squaresOff = ({ shifts }: Stretch, fraction: number, { x, y }: Curve): Float64Array =>
  Float64Array.from(shifts, (shift) => {
    const first = equation(shift, fraction);
    let [rx, ry] = [-shift.dx, -shift.dy];
    for (let a = 0; a < TERMS; a++) {
      if (shares[a] === 0) continue;
      rx += shares[a] * x[first + a];
      ry += shares[a] * y[first + a];
    }
    return rx * rx + ry * ry;
  });

/**
 * Writes down which knots a displacement hangs on: the curve at its end less the curve at its start.
 * @returns the first of the knots; the first frame of a stretch has no displacement, so that there is one
 */
const equation = ({ frame, from, to }: BandShift, fraction: number): number => {
  const end = frame + fraction * to;
  const start = frame - 1 + fraction * from;
  const first = Math.min(knotBefore(start), knotBefore(end));
  shares.fill(0);
  spread(end, 1, first);
  spread(start, -1, first);
  return first;
};

/** The first of the four knots about a time. */
const knotBefore = (time: number): number => Math.max(0, Math.floor(time / KNOT));

const spread = (time: number, sign: number, first: number): void => {
  const k = splineAt(time) - first;
  for (let i = 0; i < 4; i++) if (k + i < TERMS) shares[k + i] += sign * spline[i];
};

/** The four cubic B-splines that are not zero at a time (frames); returns the number of the first. */
const splineAt = (time: number): number => {
  const first = knotBefore(time);
  const t = Math.max(0, time / KNOT - first);
  const square = t * t;
  const cube = square * t;
  spline[0] = (1 - 3 * t + 3 * square - cube) / 6;
  spline[1] = (3 * cube - 6 * square + 4) / 6;
  spline[2] = (-3 * cube + 3 * square + 3 * t + 1) / 6;
  spline[3] = cube / 6;
  return first;
};

const valueAt = (coefficients: Float64Array, time: number): number => {
  const first = splineAt(time);
  let sum = 0;
  for (let i = 0; i < 4; i++) sum += spline[i] * coefficients[Math.min(coefficients.length - 1, first + i)];
  return sum;
};

/** How far rows lie off the middle one, by the fitted curve. */
const shapeOf = (
  stretches: readonly Stretch[],
  fraction: number,
  weights: readonly Float64Array[],
): Pick<Readout, 'wobblePx' | 'skew'> => {
  let [sum, count] = [0, 0];
  const skew: { frame: number; px: number }[] = [];
  stretches.forEach((stretch, k) => {
    const { x, y } = fitCurve(stretch, fraction, weights[k]).curve;
    for (let f = 0; f < stretch.frames; f++) {
      const middle = f + fraction / 2;
      for (let b = 0; b < ROW_BANDS; b++) {
        const time = f + (fraction * (b + 0.5)) / ROW_BANDS;
        sum += (valueAt(x, time) - valueAt(x, middle)) ** 2 + (valueAt(y, time) - valueAt(y, middle)) ** 2;
        count++;
      }
      skew.push({ frame: stretch.startFrame + f, px: valueAt(x, f + fraction) - valueAt(x, f) });
    }
  });
  return { wobblePx: Math.sqrt(sum / Math.max(1, count)), skew };
};
