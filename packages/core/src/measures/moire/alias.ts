import { SEVERAL } from '../../maths/enough.js';
import { mean, median } from '../../maths/robust.js';
import type { CameraStep } from '../../motion/motion-analysis.js';

/** A regular pattern in one window of a pair of frames. Frequencies in cycles per luma pixel. */
export interface PatternSample {
  /** The second frame of the pair. */
  readonly frame: number;
  readonly x: number;
  readonly y: number;
  /** Side of the window, clip pixels. */
  readonly side: number;
  readonly fx: number;
  readonly fy: number;
  readonly amplitude: number;
  readonly turned: number;
  /** Colour without a luma pattern beside it. */
  readonly lumaless: boolean;
}

/** A pattern that is not of the scene: amplitude in codes, period and crawl in clip pixels. */
export interface Alias {
  readonly amplitude: number;
  readonly periodPx: number;
  /** `null` where nothing is known of how it moves. */
  readonly crawlPxPerFrame: number | null;
  /** Cycles per luma pixel. */
  readonly fx: number;
  readonly fy: number;
}

/** Pairs between which a pattern of the scene and an alias would turn apart by at least this much, radians, tell. */
const TELLING = 0.5;
/** Mean cosine of the difference to what a hypothesis foretells. */
const FITS = 0.54;
const BETTER = 0.4;
/** A pattern that turns as the scene does, to this mean cosine, belongs to it. */
const BELONGS = 0.8;
/** What aliases are folded about, cycles per pixel: the sampling of luma, and of one colour of a mosaic. */
const FOLDS: readonly (readonly [number, number])[] = [
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
  [0.5, 0],
  [-0.5, 0],
  [0, 0.5],
  [0, -0.5],
  [1, 1],
  [-1, -1],
  [1, -1],
  [-1, 1],
  [0.5, 0.5],
  [-0.5, -0.5],
  [0.5, -0.5],
  [-0.5, 0.5],
];

/** Rows that are known at least this well move as they do, not as the picture does: read-out skews a picture that shakes. */
const KNOWN = 0.5;

/** How the picture moved at a height of it (0–1). */
const movedAt = (
  { dx, dy, bands, known }: CameraStep,
  height: number,
  rowStep: number,
): { dx: number; dy: number } => {
  const count = bands.length / 2;
  const x = 2 * Math.min(count - 1, Math.max(0, Math.floor(height * count)));
  const own = [x, x + 1].every((k) => known[k] >= KNOWN && !Number.isNaN(bands[k]));
  return own ? { dx: bands[x], dy: bands[x + 1] / rowStep } : { dx, dy: dy / rowStep };
};

/**
 * Decides whether the pattern of a window belongs to the scene. A pattern of frequency f that moves with the picture
 * by d turns by −2π f·d from frame to frame; an alias of it, folded about n, turns by −2π (f + n)·d.
 * @param rows of the picture that the windows lie in
 * @returns what is known of the alias; or that the pattern is the scene's; or that the camera stood too still to tell
 */
export const aliasIn = (
  all: readonly PatternSample[],
  steps: readonly (CameraStep | null)[],
  kind: 'luma' | 'colour',
  rowStep: number,
  rows: number,
): Alias | 'scene' | 'undecided' => {
  if (all.length < SEVERAL) return 'scene';
  const amplitude = median(all.map((s) => s.amplitude));
  const periodPx = median(all.map((s) => 1 / Math.hypot(s.fx, s.fy / rowStep)));
  const alias = (crawlPxPerFrame: number | null): Alias => {
    const { fx, fy } = usualOf(all);
    return { amplitude, periodPx, crawlPxPerFrame, fx, fy };
  };
  const moving = all.flatMap((s) => {
    const step = steps[s.frame];
    return step
      ? [
          {
            ...s,
            dx: step.dx,
            dy: step.dy / rowStep,
            own: movedAt(step, (s.y + s.side / 2) / rows, rowStep),
          },
        ]
      : [];
  });
  const fit = (nx: number, ny: number, seen: typeof moving): number =>
    mean(seen.map((s) => Math.cos(s.turned + 2 * Math.PI * ((s.fx + nx) * s.dx + (s.fy + ny) * s.dy))));
  const telling = (nx: number, ny: number): typeof moving =>
    moving.filter((s) => {
      const cycles = nx * s.dx + ny * s.dy;
      return 2 * Math.PI * Math.abs(cycles - Math.round(cycles)) > TELLING;
    });
  // Read-out skews a picture that shakes: what turns as its own rows move belongs to the scene.
  const asRows = moving.map((s) => ({ ...s, phase: 2 * Math.PI * (s.fx * s.own.dx + s.fy * s.own.dy) }));
  const rowsTell = asRows.filter((s) => Math.abs(s.phase) > TELLING);
  const withRows =
    rowsTell.length >= SEVERAL && mean(rowsTell.map((s) => Math.cos(s.turned + s.phase))) >= BELONGS;
  if (withRows) return 'scene';
  let best: { fit: number; lead: number; nx: number; ny: number } | null = null;
  for (const [nx, ny] of FOLDS) {
    const seen = telling(nx, ny);
    if (seen.length < SEVERAL) continue;
    const score = fit(nx, ny, seen);
    const lead = score - fit(0, 0, seen);
    if (!best || score > best.fit) best = { fit: score, lead, nx, ny };
  }
  const crawl = (nx: number, ny: number): number =>
    mean(moving.map((s) => Math.abs(nx * s.dx + ny * s.dy))) * periodPx;
  const lumaless = all.filter((s) => s.lumaless).length > all.length / 2;
  if (best && best.fit >= FITS && best.lead >= BETTER) return alias(crawl(best.nx, best.ny));
  // Colour without luma is false colour, unless it is seen to move with the scene, or to move as no alias would.
  const withScene = moving.filter((s) => Math.abs(2 * Math.PI * (s.fx * s.dx + s.fy * s.dy)) > TELLING);
  const isScene = (seen: typeof moving): boolean => seen.length >= SEVERAL && fit(0, 0, seen) >= BELONGS;
  const belongs = isScene(withScene) || FOLDS.every(([nx, ny]) => isScene(telling(nx, ny)));
  if (kind === 'colour' && lumaless && !belongs) return alias(null);
  return best ? 'scene' : 'undecided';
};

/** The frequency that the most of them are nearest to; one and its opposite are the same. */
const usualOf = (all: readonly PatternSample[]): PatternSample =>
  all.toSorted(
    (a, b) => mean(all.map((s) => frequencyApart(a, s))) - mean(all.map((s) => frequencyApart(b, s))),
  )[0];

/** How far two frequencies lie apart, in their unit: a pattern has no direction, so one and its opposite are the same. */
const frequencyApart = (
  a: { readonly fx: number; readonly fy: number },
  b: { readonly fx: number; readonly fy: number },
): number => Math.min(Math.hypot(a.fx - b.fx, a.fy - b.fy), Math.hypot(a.fx + b.fx, a.fy + b.fy));
