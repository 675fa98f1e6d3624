import { lanczos, TAPS } from '../measures/noise/resample.js';
import type { Picture } from '../treatments/sequence.js';
import { BLOCK_PX, type Study } from '../treatments/study.js';

/** Frames before and after a repair, one by one; the repair moved nothing, or was registered since. */
export interface BeforeAfter {
  /** Of the original frames, those about the repaired ones included. */
  readonly before: Study;
  /** Repaired frames by their place in the study; those that are missing were not repaired. */
  readonly after: ReadonlyMap<number, Picture>;
  /** Frames on each side that went into a repaired one. */
  readonly window: number;
}

/** Side of a tile that is looked at, luma pixels, a power of 2. */
export const TILE_PX = 32;
/** Tiles keep this far from the edge: a resampling filter has its neighbours. */
const MARGIN = 24;
/** Tiles across the picture, and frames, that are looked at. */
const MOST_ACROSS = 14;
const MOST_FRAMES = 4;

/** A place that is looked at: top left corner, luma pixels. */
export interface Tile {
  readonly x: number;
  readonly y: number;
}

/** Samples in rows: a plane, or what was worked out from planes. */
export interface Field {
  readonly width: number;
  readonly height: number;
  readonly samples: ArrayLike<number>;
}

/** Tiles spread evenly over a plane. */
export const tilesOf = ({ width, height }: Field): Tile[] => {
  const inside = width - 2 * MARGIN;
  const step = Math.max(TILE_PX, Math.floor(inside / MOST_ACROSS));
  const tiles: Tile[] = [];
  for (let y = MARGIN; y + TILE_PX + MARGIN <= height; y += step)
    for (let x = MARGIN; x + TILE_PX + MARGIN <= width; x += step) tiles.push({ x, y });
  return tiles;
};

/** Some of the repaired frames, spread evenly, for which there is another frame so far away. */
export const framesWith = (
  { before, after }: BeforeAfter,
  others: (frame: number) => readonly number[],
  has: (frame: number) => boolean = (frame) => frame >= 0 && frame < before.count,
): { frame: number; other: number }[] => {
  const found = [...after.keys()].flatMap((frame) => {
    const other = others(frame).find(has);
    return other === undefined ? [] : [{ frame, other }];
  });
  const every = Math.max(1, Math.ceil(found.length / MOST_FRAMES));
  return found.filter((_, i) => i % every === every >> 1);
};

/** Some pairs of repaired frames whose repairs share no frame, or as few as there are frames for; none of one frame alone. */
export const pairsApart = (pair: BeforeAfter): { frame: number; other: number }[] => {
  const apart = Math.min(2 * pair.window + 1, pair.after.size - 1);
  return apart < 1
    ? []
    : framesWith(
        pair,
        (frame) => [frame + apart, frame - apart],
        (frame) => pair.after.has(frame),
      );
};

/** Copies a tile of luma. */
export const cut = ({ width, samples }: Field, { x, y }: Tile, to: Float64Array): Float64Array => {
  for (let v = 0, o = 0; v < TILE_PX; v++)
    for (let u = 0, i = (y + v) * width + x; u < TILE_PX; u++, i++, o++) to[o] = samples[i];
  return to;
};

const scratch = new Float64Array(TILE_PX * (TILE_PX + TAPS));

/** Reads a tile at a place between samples. @returns whether the plane shows all of it */
export const cutMoved = (plane: Field, x: number, y: number, to: Float64Array): boolean => {
  const { width, height, samples } = plane;
  const [ix, iy] = [Math.floor(x), Math.floor(y)];
  const before = TAPS / 2 - 1;
  if (ix < before || iy < before || ix + TILE_PX + TAPS / 2 > width || iy + TILE_PX + TAPS / 2 > height)
    return false;
  const [across, down] = [lanczos(x - ix), lanczos(y - iy)];
  for (let r = 0; r < TILE_PX + TAPS - 1; r++) {
    const base = (iy + r - before) * width + ix - before;
    for (let c = 0; c < TILE_PX; c++) {
      let sum = 0;
      for (let k = 0; k < TAPS; k++) sum += across[k] * samples[base + c + k];
      scratch[r * TILE_PX + c] = sum;
    }
  }
  for (let r = 0; r < TILE_PX; r++)
    for (let c = 0; c < TILE_PX; c++) {
      let sum = 0;
      for (let k = 0; k < TAPS; k++) sum += down[k] * scratch[(r + k) * TILE_PX + c];
      to[r * TILE_PX + c] = sum;
    }
  return true;
};

/** Where a tile lies in another frame, and how far off the camera's own movement that is; luma pixels. */
export const movedTile = (
  study: Study,
  from: number,
  to: number,
  { x, y }: Tile,
): { x: number; y: number; own: number } => {
  const { columns, rows, dx, dy, camera } = study.motion(from, to);
  const [cx, cy] = [x + TILE_PX / 2, y + TILE_PX / 2];
  const column = Math.min(columns - 1, Math.floor(cx / BLOCK_PX));
  const row = Math.min(rows - 1, Math.floor(cy / BLOCK_PX));
  // A tile has four blocks; its middle is a corner of all of them.
  let [sumX, sumY, count] = [0, 0, 0];
  for (const v of [Math.max(0, row - 1), row])
    for (const u of [Math.max(0, column - 1), column]) {
      sumX += dx[v * columns + u];
      sumY += dy[v * columns + u];
      count++;
    }
  const { width, height } = study.sequence.pictures[from].planes[0];
  const [ux, uy] = [cx - width / 2, cy - height / 2];
  const [mx, my] = [sumX / count, sumY / count];
  const own = Math.hypot(
    mx - (camera.dx + camera.zoom * ux - camera.turn * uy),
    my - (camera.dy + camera.turn * ux + camera.zoom * uy),
  );
  return { x: x + mx, y: y + my, own };
};
