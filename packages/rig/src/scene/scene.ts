import type { Texture } from './texture.js';

/** Where a plate stands at an instant, in output pixels about the middle of the world. */
export type Placement = (timeSec: number) => { x: number; y: number };

/** One plate of the scene. Plates are listed from the farthest to the nearest. */
export interface Layer {
  readonly texture: Texture;
  /** Texels for one output pixel when the camera does not zoom. */
  readonly texelsPerPixel: number;
  /** How much of the camera's movement it shows: 1 for the subject plane, 0 for the sky at infinity, above 1 for what is near. */
  readonly parallax: number;
  readonly place: Placement;
}

export interface Scene {
  readonly layers: readonly Layer[];
  /** What shows where no plate covers. */
  readonly ground: readonly [number, number, number];
}

export const standing =
  (x = 0, y = 0): Placement =>
  () => ({ x, y });
