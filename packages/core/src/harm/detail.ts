import { PairSpectrum } from '../maths/fft2.js';
import type { Place } from '../measures/hot-pixels/place.js';
import type { Plane } from '../picture/frame.js';
import { lumaScale } from '../picture/signal.js';
import { notMeasurable, type HarmFigure } from './figure.js';
import {
  cut,
  cutMoved,
  framesWith,
  movedTile,
  TILE_PX,
  tilesOf,
  type BeforeAfter,
  type Tile,
} from './pair.js';

/** Bands of fineness, cycles a pixel: what one sees as crisp, and what one sees as shape. */
export const BANDS = { fine: [0.18, 0.42], medium: [0.07, 0.18] } as const;
export type Band = keyof typeof BANDS;

/** Two frames of one place are alike by this much in a band, or there is too little detail to lose. */
const LEAST_COHERENCE = 0.3;
/** and what is fainter than this, RMS as a share of the range, is no detail to a viewer: it is a step of an even ground. */
const LEAST_RMS = 0.0006;
const LEAST_TILES = 6;
/** A tile goes its own way from so far off the camera's movement, luma pixels. */
export const OWN_WAY_PX = 1;

/** What of a tile's detail a repair kept: cross-power with a frame that took no part in it, after and before. */
interface Kept {
  readonly tile: Tile;
  readonly frame: number;
  readonly own: number;
  readonly after: number;
  readonly before: number;
}

/** Share of the true detail of a band that is left: 100 = all of it; where it is least, and what is lost where things move. */
export interface DetailHarm {
  readonly kept: Record<Band, HarmFigure>;
  readonly smear: HarmFigure;
}

/**
 * Transfer of true detail (after the cross-power of two looks at one scene; Bendat and Piersol 2010): a registered frame of
 * the original that took no part in the repair has the detail and another noise, so that noise cancels in both powers.
 * @param faults of the sensor, luma pixels: they stand in both frames, and are no detail. Where the camera moved them apart
 * nothing of them is left either
 */
export const detailHarm = (pair: BeforeAfter, faults: readonly Place[] = []): DetailHarm => {
  const { before, after, window } = pair;
  const away = window + 1;
  const frames = framesWith(pair, (f) => [f + away, f - away]);
  if (frames.length === 0) {
    const none = notMeasurable(
      `No frame lies ${away} frames from a repaired one: one that took no part in the repair is needed.`,
    );
    return { kept: { fine: none, medium: none }, smear: none };
  }
  const found: Record<Band, Kept[]> = { fine: [], medium: [] };
  // By Parseval's theorem, of the half of a spectrum that is summed.
  const least = 0.5 * (LEAST_RMS * lumaScale(before.sequence.clip).span * TILE_PX ** 2) ** 2;
  for (const { frame, other } of frames) {
    const original = before.sequence.pictures[frame].planes[0];
    const repaired = after.get(frame)!.planes[0];
    const witness = before.sequence.pictures[other].planes[0];
    for (const tile of tilesOf(original)) {
      const at = movedTile(before, frame, other, tile);
      if (isOverItself(at, tile) && faults.some((fault) => liesIn(fault, tile))) continue;
      const powers = crossPowers(original, repaired, witness, tile, at);
      if (!powers) continue;
      for (const band of ['fine', 'medium'] as const) {
        const { after: left, before: was, coherence } = powers[band];
        if (coherence >= LEAST_COHERENCE && was >= least)
          found[band].push({ tile, frame, own: at.own, after: left, before: was });
      }
    }
  }
  const first = before.sequence.firstFrame;
  return {
    kept: { fine: keptOf(found.fine, first), medium: keptOf(found.medium, first) },
    smear: smearOf(found.fine, first),
  };
};

/** A fault spreads over so many luma pixels: a tile that the camera carried further shows it elsewhere. */
const FAULT_PX = 4;

const isOverItself = (at: Place, tile: Tile): boolean => Math.hypot(at.x - tile.x, at.y - tile.y) < FAULT_PX;

const liesIn = ({ x, y }: Place, tile: Tile): boolean =>
  x >= tile.x - FAULT_PX &&
  x < tile.x + TILE_PX + FAULT_PX &&
  y >= tile.y - FAULT_PX &&
  y < tile.y + TILE_PX + FAULT_PX;

const share = (tiles: readonly Kept[]): number =>
  (100 * tiles.reduce((s, t) => s + t.after, 0)) / tiles.reduce((s, t) => s + t.before, 0);

const worstOf = (tiles: readonly Kept[], firstFrame: number): { x: number; y: number; frame: number } => {
  const worst = tiles.reduce((a, b) => (b.after / b.before < a.after / a.before ? b : a));
  return {
    x: worst.tile.x + TILE_PX / 2,
    y: worst.tile.y + TILE_PX / 2,
    frame: firstFrame + worst.frame,
  };
};

const figureOf = (value: number, tiles: readonly Kept[], firstFrame: number): HarmFigure => ({
  value,
  tiles: tiles.length,
  frames: new Set(tiles.map((t) => t.frame)).size,
  worst: worstOf(tiles, firstFrame),
});

const keptOf = (tiles: readonly Kept[], firstFrame: number): HarmFigure =>
  tiles.length < LEAST_TILES
    ? notMeasurable('There is too little detail of this fineness in the picture.')
    : figureOf(share(tiles), tiles, firstFrame);

const smearOf = (tiles: readonly Kept[], firstFrame: number): HarmFigure => {
  const [moving, still] = [tiles.filter((t) => t.own > OWN_WAY_PX), tiles.filter((t) => t.own <= OWN_WAY_PX)];
  if (moving.length < LEAST_TILES || still.length < LEAST_TILES)
    return notMeasurable('Nothing with detail moves by itself: there is nothing to smear.');
  return figureOf(Math.max(0, share(still) - share(moving)), moving, firstFrame);
};

const spectra = [new PairSpectrum(TILE_PX), new PairSpectrum(TILE_PX)] as const;
const [one, two, other] = Array.from({ length: 3 }, () => new Float64Array(TILE_PX * TILE_PX));

const crossPowers = (
  original: Plane,
  repaired: Plane,
  witness: Plane,
  tile: Tile,
  at: { x: number; y: number },
): Record<Band, { after: number; before: number; coherence: number }> | null => {
  if (!cutMoved(witness, at.x, at.y, other)) return null;
  const [was, is] = spectra;
  const square = (samples: Float64Array): { width: number; samples: Float64Array } => ({
    width: TILE_PX,
    samples,
  });
  was.take(square(cut(original, tile, one)), square(other), 0, 0);
  is.take(square(cut(repaired, tile, two)), square(other), 0, 0);
  const sums = { fine: [0, 0, 0, 0], medium: [0, 0, 0, 0] };
  for (let v = 0; v < TILE_PX; v++)
    for (let u = 0; u <= TILE_PX / 2; u++) {
      const fy = v > TILE_PX / 2 ? v - TILE_PX : v;
      const frequency = Math.sqrt(u * u + fy * fy) / TILE_PX;
      const band = bandOf(frequency);
      if (!band) continue;
      const [o, w] = [was.first(u, v), was.second(u, v)];
      const r = is.first(u, v);
      const sum = sums[band];
      sum[0] += r.re * w.re + r.im * w.im;
      sum[1] += o.re * w.re + o.im * w.im;
      sum[2] += o.re * o.re + o.im * o.im;
      sum[3] += w.re * w.re + w.im * w.im;
    }
  const told = ([left, before, own, its]: readonly number[]): {
    after: number;
    before: number;
    coherence: number;
  } => ({ after: left, before, coherence: before / Math.sqrt(own * its + 1e-12) });
  return { fine: told(sums.fine), medium: told(sums.medium) };
};

const bandOf = (frequency: number): Band | null =>
  frequency >= BANDS.fine[0] && frequency < BANDS.fine[1]
    ? 'fine'
    : frequency >= BANDS.medium[0] && frequency < BANDS.medium[1]
      ? 'medium'
      : null;
