import { fractalAlong } from './fractal.js';

/** Linear-light red, green, blue. */
export type Colour = readonly [number, number, number];
/** `a`, and `b` by the share `k` instead. */
export const mixed = (a: Colour, b: Colour, k: number): Colour => [
  a[0] + (b[0] - a[0]) * k,
  a[1] + (b[1] - a[1]) * k,
  a[2] + (b[2] - a[2]) * k,
];

export type Ink = Colour | ((x: number, y: number) => Colour);

/** A painted plate: premultiplied linear-light RGBA, interleaved, row by row. */
export class Texture {
  readonly rgba: Float32Array;
  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.rgba = new Float32Array(width * height * 4);
  }

  /** Paints `ink` wherever `coverage` (0–1, anti-aliased by the caller) is positive inside the box. */
  paint(
    box: { x: number; y: number; width: number; height: number },
    ink: Ink,
    coverage: (x: number, y: number) => number = () => 1,
  ): void {
    const x0 = Math.max(0, Math.floor(box.x));
    const x1 = Math.min(this.width, Math.ceil(box.x + box.width));
    const y0 = Math.max(0, Math.floor(box.y));
    const y1 = Math.min(this.height, Math.ceil(box.y + box.height));
    for (let y = y0; y < y1; y++) {
      for (let x = x0; x < x1; x++) {
        const a = Math.min(1, coverage(x + 0.5, y + 0.5));
        if (a <= 0) continue;
        const [r, g, b] = typeof ink === 'function' ? ink(x + 0.5, y + 0.5) : ink;
        const i = (y * this.width + x) * 4;
        this.rgba[i] = r * a + this.rgba[i] * (1 - a);
        this.rgba[i + 1] = g * a + this.rgba[i + 1] * (1 - a);
        this.rgba[i + 2] = b * a + this.rgba[i + 2] * (1 - a);
        this.rgba[i + 3] = a + this.rgba[i + 3] * (1 - a);
      }
    }
  }

  fill(ink: Ink): void {
    this.paint({ x: 0, y: 0, width: this.width, height: this.height }, ink);
  }

  rectangle(x: number, y: number, width: number, height: number, ink: Ink): void {
    const edge = (v: number, low: number, high: number): number =>
      Math.max(0, Math.min(1, v - low + 0.5, high - v + 0.5));
    this.paint(
      { x: x - 1, y: y - 1, width: width + 2, height: height + 2 },
      ink,
      (px, py) => edge(px, x, x + width) * edge(py, y, y + height),
    );
  }

  ellipse(cx: number, cy: number, rx: number, ry: number, ink: Ink, softness = 1): void {
    const r = Math.min(rx, ry);
    this.paint(
      {
        x: cx - rx - softness,
        y: cy - ry - softness,
        width: 2 * (rx + softness),
        height: 2 * (ry + softness),
      },
      ink,
      (x, y) => {
        const d = Math.hypot((x - cx) / rx, (y - cy) / ry);
        return Math.max(0, Math.min(1, ((1 - d) * r) / softness + 0.5));
      },
    );
  }

  /** A convex polygon whose corners run clockwise. */
  polygon(corners: readonly (readonly [number, number])[], ink: Ink): void {
    const xs = corners.map((c) => c[0]);
    const ys = corners.map((c) => c[1]);
    const [x, y] = [Math.min(...xs) - 1, Math.min(...ys) - 1];
    const edges = corners.map(([ax, ay], i) => {
      const [bx, by] = corners[(i + 1) % corners.length];
      const length = Math.hypot(bx - ax, by - ay) || 1;
      return { ax, ay, nx: -(by - ay) / length, ny: (bx - ax) / length };
    });
    this.paint({ x, y, width: Math.max(...xs) + 1 - x, height: Math.max(...ys) + 1 - y }, ink, (px, py) => {
      let cover = 1;
      for (const e of edges) cover = Math.min(cover, (px - e.ax) * e.nx + (py - e.ay) * e.ny + 0.5);
      return cover;
    });
  }

  line(ax: number, ay: number, bx: number, by: number, thickness: number, ink: Ink): void {
    const length = Math.hypot(bx - ax, by - ay) || 1;
    const nx = (-(by - ay) / length) * (thickness / 2);
    const ny = ((bx - ax) / length) * (thickness / 2);
    this.polygon(
      [
        [ax - nx, ay - ny],
        [bx - nx, by - ny],
        [bx + nx, by + ny],
        [ax + nx, ay + ny],
      ],
      ink,
    );
  }

  /** Multiplies what is painted by `gain`, for light and shade laid over finished work. */
  shade(gain: (x: number, y: number) => Colour | number): void {
    for (let y = 0; y < this.height; y++) {
      for (let x = 0; x < this.width; x++) {
        const g = gain(x + 0.5, y + 0.5);
        const i = (y * this.width + x) * 4;
        const [r, gr, b] = typeof g === 'number' ? [g, g, g] : g;
        this.rgba[i] *= r;
        this.rgba[i + 1] *= gr;
        this.rgba[i + 2] *= b;
      }
    }
  }
}

/** A paint whose brightness is broken up by 1/f texture: `depth` 0.2 is ±20 % about. */
export const textured = (colour: Colour, depth: number, sizePx: number, seed: number): Ink => {
  const broken = fractalAlong(1 / sizePx, 5, seed);
  return (x, y) => {
    const k = 1 + depth * 2 * (broken(x, y) - 0.5);
    return [colour[0] * k, colour[1] * k, colour[2] * k];
  };
};
