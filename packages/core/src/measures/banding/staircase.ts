import { CODE_OF_8_BITS } from '../../picture/signal.js';
import { SEVERAL } from '../../maths/enough.js';
import { median } from '../../maths/robust.js';

/** A picture made smaller, with what it lost: % of range, row by row. */
export interface Reduced {
  readonly width: number;
  readonly height: number;
  readonly levelPct: Float32Array;
  /** Mean difference of neighbouring pixels of the full size within each pixel: noise, dither, texture. */
  readonly restlessPct: Float32Array;
  /** Full-size pixels for one. */
  readonly factor: number;
}

/** One code of 8 bits, % of range. */
const ONE_CODE = 100 * CODE_OF_8_BITS;
/** Steps lower than three quarters of that are no step of an 8-bit picture; higher ones than this are edges of things. % of range. */
const LOWEST = 0.75 * ONE_CODE;
const HIGHEST = 9;
/** A step happens within this many pixels to each side, and the plateaus beside it are looked at over so many more. */
const WITHIN = 2;
const PLATEAU = 4;
/** A plateau drifts, and is restless, by at most this share of the step. */
const FLAT = 0.25;
const QUIET = 0.4;
/** Most of the step happens at once. */
const SHARP = 0.55;
/** Steps of one staircase differ by at most this factor: red, green and blue step at different places, each by its share of luma. */
const ALIKE = 4.5;
/** A staircase has at least so many steps; several where they are so high (% of range) that few edges of things could look like one. */
const LEAST_STEPS = 2;
const HIGH = 2;

/** Where grain was there before the steps, a step is a mixture of both codes: restless by this share of the step at least, … */
const MIXED = 0.12;
/** … between plateaus that are still, which nothing else looks like. */
const STILL = 0.08;

/** What a staircase along one line covers. */
export interface Staircase {
  readonly from: number;
  readonly to: number;
  /** Height and middle of each step, % of range. */
  readonly steps: readonly Step[];
}

/** One step of a staircase, % of range. */
export interface Step {
  readonly height: number;
  readonly level: number;
}

interface Contour {
  readonly at: number;
  readonly height: number;
  readonly before: number;
  readonly after: number;
}

/**
 * Staircases along one line of a picture: at least two sharp steps up, or down, of about one height, one after the
 * other, with flat and quiet plateaus between and beside them. A single edge is none, nor is one that goes back.
 * @param start index of the line's first pixel
 * @param stride from pixel to pixel: 1 along a row, the width down a column
 * @param mixed whether steps are looked for that are mixtures of both codes, as wide as a few pixels
 */
export const staircasesAlong = (
  { levelPct: v, restlessPct: n }: Reduced,
  start: number,
  stride: number,
  length: number,
  mixed = false,
): Staircase[] => {
  const contours: Contour[] = [];
  const margin = WITHIN + PLATEAU;
  for (let x = margin; x < length - margin; x++) {
    const i = start + x * stride;
    const near = v[i + stride] - v[i - stride];
    if (near < LOWEST * SHARP && near > -LOWEST * SHARP) continue;
    const before = v[i - WITHIN * stride];
    const after = v[i + WITHIN * stride];
    const height = after - before;
    const size = Math.abs(height);
    if (size < LOWEST || size > HIGHEST || Math.abs(near) < SHARP * size || near * height < 0) continue;
    const farBefore = v[i - margin * stride];
    const farAfter = v[i + margin * stride];
    if (Math.abs(before - farBefore) > FLAT * size || Math.abs(farAfter - after) > FLAT * size) continue;
    let ripple = 0;
    for (let k = WITHIN + 1; k <= margin; k++) ripple += n[i - k * stride] + n[i + k * stride];
    if (ripple > (mixed ? STILL : QUIET) * size * 2 * PLATEAU) continue;
    if (mixed && n[i - stride] + n[i] + n[i + stride] < 3 * MIXED * size) continue;
    const last = contours[contours.length - 1];
    // Of a step that is seen at two places side by side, the first is kept.
    if (last && x - last.at <= WITHIN && last.height * height > 0) continue;
    contours.push({ at: x, height, before: farBefore, after: farAfter });
  }
  return chained(contours, length, mixed ? LEAST_STEPS : SEVERAL);
};

const chained = (contours: readonly Contour[], length: number, leastHigh: number): Staircase[] => {
  const stairs: Staircase[] = [];
  for (let first = 0; first < contours.length;) {
    let last = first;
    while (last + 1 < contours.length && follows(contours[last], contours[last + 1])) last++;
    const steps = contours
      .slice(first, last + 1)
      .map((c) => ({ height: Math.abs(c.height), level: (c.before + c.after) / 2 }));
    if (steps.length >= (median(steps.map((s) => s.height)) > HIGH ? leastHigh : LEAST_STEPS)) {
      const tread = (contours[last].at - contours[first].at) / (last - first);
      stairs.push({
        from: Math.max(0, Math.round(contours[first].at - tread)),
        to: Math.min(length - 1, Math.round(contours[last].at + tread)),
        steps,
      });
    }
    first = last + 1;
  }
  return stairs;
};

const follows = (a: Contour, b: Contour): boolean => {
  const ratio = b.height / a.height;
  return (
    ratio > 1 / ALIKE &&
    ratio < ALIKE &&
    Math.abs(b.before - a.after) <=
      Math.max(ONE_CODE, FLAT * Math.min(Math.abs(a.height), Math.abs(b.height)))
  );
};
