import type { Shape } from '@bevrin/contract';

/** What the pointer does on the picture. */
export const TOOLS = {
  look: 'Move',
  patch: 'Draw a flat patch',
  mask: 'Mask a rectangle',
  polygon: 'Mask a polygon',
  interest: 'Draw the region of interest',
  line: 'Draw a line across an edge',
} as const;
export type Tool = keyof typeof TOOLS;

export type Point = readonly [x: number, y: number];

/** What was drawn last, in clip pixels. */
export type Drawn =
  | { readonly tool: 'patch' | 'mask' | 'interest'; readonly shape: Extract<Shape, { kind: 'rectangle' }> }
  | { readonly tool: 'polygon'; readonly shape: Extract<Shape, { kind: 'polygon' }> }
  | { readonly tool: 'line'; readonly from: Point; readonly to: Point };

/** Smaller than this is a slip of the hand, clip px. */
const LEAST = 3;

const clamp = (v: number, most: number): number => Math.max(0, Math.min(most, v));

/** The rectangle between two corners, in whole pixels inside the picture; `null` where there is hardly any. */
export const rectangleOf = (
  a: Point,
  b: Point,
  picture: { readonly width: number; readonly height: number },
): Extract<Shape, { kind: 'rectangle' }> | null => {
  const [x0, x1] = [clamp(Math.min(a[0], b[0]), picture.width), clamp(Math.max(a[0], b[0]), picture.width)];
  const [y0, y1] = [clamp(Math.min(a[1], b[1]), picture.height), clamp(Math.max(a[1], b[1]), picture.height)];
  const [x, y] = [Math.floor(x0), Math.floor(y0)];
  const [width, height] = [Math.ceil(x1) - x, Math.ceil(y1) - y];
  return width < LEAST || height < LEAST ? null : { kind: 'rectangle', x, y, width, height };
};

export const lineBetween = (from: Point, to: Point): Extract<Drawn, { tool: 'line' }> | null =>
  Math.hypot(to[0] - from[0], to[1] - from[1]) < LEAST ? null : { tool: 'line', from, to };
