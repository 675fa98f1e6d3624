import type { ClipFacts, Rectangle } from '#terms';
import type { z } from 'zod';
import { kernels } from '../../kernels/kernels.js';
import type { Plane } from '../../picture/frame.js';
import { lightOfCodes, lumaScale } from '../../picture/signal.js';
import { fitEdge } from './edge.js';
import { overshootAt } from './overshoot.js';

/** An edge that was found, with the place of its middle in plane pixels. */
export interface MeasuredEdge {
  readonly x: number;
  readonly y: number;
  readonly sigmaPx: number;
  readonly errorPx: number;
}

/** Cells across the picture; the strongest edge of each is looked at. */
const CELLS_ACROSS = 44;
/** Most edges that are fitted in a frame, the strongest first. */
const MOST_EDGES = 200;
/** Room that a fit needs about its place. */
const MARGIN = 18;
/** Height of a step, linear light, below which it is not looked at. */
const LEAST_HEIGHT = 0.02;
/** A place brighter than this share of the range is clipped. */
const CLIPPED = 0.985;

type Rect = z.infer<typeof Rectangle>;

/** What the edges of a frame tell. */
export interface FoundEdges {
  readonly edges: readonly MeasuredEdge[];
  /** Lines beside edges whose sides are flat, share of the step. */
  readonly overshoots: readonly number[];
}

/** Finds the edges of a full-size frame and fits them. About 5 operations per pixel, and a few hundred fits. */
export class EdgeFinder {
  private readonly linear: Float32Array;
  private readonly clipped: number;

  constructor(clip: Pick<ClipFacts, 'bitDepth' | 'range' | 'transfer'>) {
    const scale = lumaScale(clip);
    this.linear = new Float32Array(lightOfCodes(scale, clip.transfer));
    this.clipped = scale.black + CLIPPED * scale.span;
  }

  /** @param leaveOut whether a place of the plane must not be used */
  find(plane: Plane, leaveOut: (x: number, y: number) => boolean, within?: Rect): FoundEdges {
    const places = this.strongest(plane, leaveOut, within);
    const { width, samples } = plane;
    const read = (x: number, y: number): number => this.linear[samples[y * width + x]];
    const stored = (x: number, y: number): number => samples[y * width + x];
    const edges: MeasuredEdge[] = [];
    const overshoots: number[] = [];
    for (const { x, y } of places) {
      const direction = this.across(plane, x, y);
      if (!direction) continue;
      const overshoot = overshootAt(stored, x, y, direction.ux, direction.uy);
      if (overshoot !== null) overshoots.push(overshoot);
      const fit = fitEdge(read, x, y, direction.ux, direction.uy);
      if (!fit || fit.height < LEAST_HEIGHT) continue;
      edges.push({ x, y, sigmaPx: fit.sigmaPx, errorPx: fit.errorPx });
    }
    return { edges, overshoots };
  }

  /** The steepest place of each cell, over a base line of four pixels so that noise and fine grain do not win. */
  private strongest(
    { width, height, samples }: Plane,
    leaveOut: (x: number, y: number) => boolean,
    within?: Rect,
  ): { x: number; y: number }[] {
    const left = Math.max(MARGIN, Math.ceil(within?.x ?? 0));
    const right = Math.min(width - MARGIN, Math.floor(within ? within.x + within.width : width));
    const top = Math.max(MARGIN, Math.ceil(within?.y ?? 0));
    const bottom = Math.min(height - MARGIN, Math.floor(within ? within.y + within.height : height));
    const cell = Math.max(12, Math.round((within ? within.width : width) / CELLS_ACROSS));
    const found: { x: number; y: number; strength: number }[] = [];
    kernels.reserve(samples.length / 2 + 1, 1);
    const plane = kernels.putWords(samples);
    for (let cy = top; cy < bottom; cy += cell)
      for (let cx = left; cx < right; cx += cell) {
        const at = kernels.run.steepestOf(
          plane,
          width,
          cx,
          Math.min(cx + cell, right),
          cy,
          Math.min(cy + cell, bottom),
        );
        if (at < 0) continue;
        const [x, y] = [at % width, Math.floor(at / width)];
        if (!leaveOut(x, y)) found.push({ x, y, strength: kernels.result(0) });
      }
    return found.sort((a, b) => b.strength - a.strength).slice(0, MOST_EDGES);
  }

  /** Direction across the edge by the structure tensor of a 9×9 window; `null` where there is no one direction, or clipping. */
  private across({ width, samples }: Plane, x: number, y: number): { ux: number; uy: number } | null {
    let [xx, xy, yy, sx, sy] = [0, 0, 0, 0, 0];
    for (let v = -4; v <= 4; v++)
      for (let i = (y + v) * width + x - 4, end = i + 9; i < end; i++) {
        if (samples[i] >= this.clipped) return null;
        const gx = samples[i + 1] - samples[i - 1];
        const gy = samples[i + width] - samples[i - width];
        xx += gx * gx;
        xy += gx * gy;
        yy += gy * gy;
        sx += gx;
        sy += gy;
      }
    const spread = Math.sqrt(((xx - yy) / 2) ** 2 + xy * xy);
    if (spread < 0.35 * ((xx + yy) / 2)) return null;
    const angle = 0.5 * Math.atan2(2 * xy, xx - yy);
    const [ux, uy] = [Math.cos(angle), Math.sin(angle)];
    return sx * ux + sy * uy >= 0 ? { ux, uy } : { ux: -ux, uy: -uy };
  }
}
