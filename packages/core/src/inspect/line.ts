import { bilinearWithin } from '../maths/bilinear.js';
import type { ClipFacts } from '#document';
import { fitEdge } from '../measures/softness/edge.js';
import type { Plane } from '../picture/frame.js';
import { lumaScale, toLinearLight } from '../picture/signal.js';

/** What lies under a line that a technician drew across an edge. */
export interface LineProfile {
  /** Level of luma at every half pixel along the line, % of range. */
  readonly profile: readonly { readonly atPx: number; readonly levelPct: number }[];
  /** Gaussian-equivalent blur of the steepest edge under the line, px, in linear light; `null` where no single step stands. */
  readonly blurSigmaPx: number | null;
  readonly errorPx: number | null;
  readonly edge: { readonly x: number; readonly y: number } | null;
}

/** Slope of the surface about a pixel is taken over so many pixels to each side. */
const SLOPE_REACH = 2;

/**
 * Reads the profile along a line and the blur of the steepest edge that it crosses, as the measure of softness fits it.
 * @param from, to in clip pixels
 */
export const lineOf = (
  { width, height, samples }: Plane,
  facts: Pick<ClipFacts, 'bitDepth' | 'range' | 'transfer'>,
  from: readonly [number, number],
  to: readonly [number, number],
): LineProfile => {
  const { black, span } = lumaScale(facts);
  const inside = (v: number, size: number): number => Math.max(0, Math.min(size - 1, v));
  const level = (x: number, y: number): number =>
    (samples[inside(Math.round(y), height) * width + inside(Math.round(x), width)] - black) / span;
  const light = (x: number, y: number): number => toLinearLight(level(x, y), facts.transfer);
  const between = (x: number, y: number): number =>
    (bilinearWithin(samples, width, height, x, y) - black) / span;
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
  const count = Math.max(2, Math.round(2 * length) + 1);
  const at = (i: number): [number, number] => [
    from[0] + ((to[0] - from[0]) * i) / (count - 1),
    from[1] + ((to[1] - from[1]) * i) / (count - 1),
  ];
  const profile = Array.from({ length: count }, (_, i) => ({
    atPx: (length * i) / (count - 1),
    levelPct: 100 * between(...at(i)),
  }));
  let best = { slope: 0, x: 0, y: 0, ux: 0, uy: 0 };
  for (let i = 0; i < count; i++) {
    const [x, y] = at(i).map(Math.round);
    if (Math.min(x, y, width - 1 - x, height - 1 - y) < SLOPE_REACH) continue;
    let [gx, gy] = [0, 0];
    for (let k = -SLOPE_REACH; k <= SLOPE_REACH; k++) {
      gx += light(x + SLOPE_REACH, y + k) - light(x - SLOPE_REACH, y + k);
      gy += light(x + k, y + SLOPE_REACH) - light(x + k, y - SLOPE_REACH);
    }
    const slope = Math.hypot(gx, gy);
    if (slope > best.slope) best = { slope, x, y, ux: gx / slope, uy: gy / slope };
  }
  const fit = best.slope > 0 ? fitEdge(light, best.x, best.y, best.ux, best.uy) : null;
  return {
    profile,
    blurSigmaPx: fit?.sigmaPx ?? null,
    errorPx: fit?.errorPx ?? null,
    edge: fit ? { x: best.x, y: best.y } : null,
  };
};
