import { mean, median } from '../maths/robust.js';
import type { CameraMotion, Place } from './camera.js';
import { ROWS } from './cells.js';
import { AT_ONE, type Similarity } from './similarity.js';

/** The motion into one frame of what surrounds a subject, in pixels of the picture. */
export type SurroundingStep = Pick<CameraMotion, 'motion' | 'bands' | 'known' | 'error'>;

/** A place about the middle of the picture, its row of cells, and how far it went beside what was followed. */
export interface Way extends Place {
  readonly row: number;
  readonly dx: number;
  readonly dy: number;
}

/** Those that lie near the median of all. */
export const nearMedian = (ways: readonly Way[]): readonly Way[] => {
  const [dx, dy] = [median(ways.map((w) => w.dx)), median(ways.map((w) => w.dy))];
  const off = ways.map((w) => Math.hypot(w.dx - dx, w.dy - dy));
  const most = Math.max(AT_ONE, 3 * median(off));
  return ways.filter((_, i) => off[i] <= most);
};

/** How places go beside what was followed, pixels of the middle; what that grows by from row to row; turn and zoom. */
export interface Beside {
  readonly dx: number;
  readonly dy: number;
  readonly leanX: number;
  readonly leanY: number;
  readonly zoom: number;
  readonly turn: number;
}

/** Least squares. As with the camera, turn and zoom come from what changes along the rows alone. */
export const besideOf = (ways: readonly Way[]): Beside => {
  const along = { spread: 0, x: 0, y: 0 };
  for (const row of inRows(ways)) {
    const middle = mean(row.map((w) => w.x));
    for (const { x, dx, dy } of row) {
      along.spread += (x - middle) ** 2;
      along.x += (x - middle) * dx;
      along.y += (x - middle) * dy;
    }
  }
  const [zoom, turn] = along.spread > 0 ? [along.x / along.spread, along.y / along.spread] : [0, 0];
  const turned = { dx: 0, dy: 0, zoom, turn };
  const [x, y] = [offX, offY].map((off) => lineAtMiddle(ways, (w) => off(turned, w)));
  return { dx: x.value, dy: y.value, leanX: x.slope, leanY: y.slope, zoom, turn };
};

/** How far a place lies off, its lean apart. */
const offX = ({ dx, zoom, turn }: Omit<Beside, 'leanX' | 'leanY'>, w: Way): number =>
  w.dx - dx - zoom * w.x + turn * w.y;
const offY = ({ dy, zoom, turn }: Omit<Beside, 'leanX' | 'leanY'>, w: Way): number =>
  w.dy - dy - turn * w.x - zoom * w.y;

/** How far a place lies from where others lead, pixels. */
export const farFrom = (beside: Beside, way: Way): number =>
  Math.hypot(offX(beside, way) - beside.leanX * way.y, offY(beside, way) - beside.leanY * way.y);

const inRows = (ways: readonly Way[]): readonly (readonly Way[])[] =>
  Array.from({ length: ROWS }, (_, row) => ways.filter((w) => w.row === row));

/** The motion of places; each row keeps a displacement of its own, and that of the middle lies on the line through them. */
export const stepBeside = (followed: Similarity, ways: readonly Way[]): SurroundingStep => {
  const beside = besideOf(ways);
  const motion = {
    dx: followed.dx + beside.dx,
    dy: followed.dy + beside.dy,
    zoom: followed.zoom + beside.zoom,
    turn: followed.turn + beside.turn,
  };
  const rows = inRows(ways);
  const errorOf = (off: (w: Way) => number): number =>
    Math.sqrt(mean(ways.map((w) => off(w) ** 2)) / ways.length);
  return {
    motion,
    bands: Float64Array.from({ length: 2 * ROWS }, (_, i) =>
      i % 2 === 0
        ? motion.dx + mean(rows[i >> 1].map((w) => offX(beside, w)))
        : motion.dy + mean(rows[i >> 1].map((w) => offY(beside, w))),
    ),
    known: Float64Array.from({ length: 2 * ROWS }, (_, i) => rows[i >> 1].length),
    error: {
      x: errorOf((w) => offX(beside, w) - beside.leanX * w.y),
      y: errorOf((w) => offY(beside, w) - beside.leanY * w.y),
    },
  };
};

/** The line over the rows that lies nearest to what places tell, and its value at the middle row. */
const lineAtMiddle = (ways: readonly Way[], of: (w: Way) => number): { value: number; slope: number } => {
  const [y, v] = [mean(ways.map((w) => w.y)), mean(ways.map(of))];
  const spread = ways.reduce((sum, w) => sum + (w.y - y) ** 2, 0);
  const slope = spread > 0 ? ways.reduce((sum, w) => sum + (w.y - y) * of(w), 0) / spread : 0;
  return { value: v - slope * y, slope };
};
