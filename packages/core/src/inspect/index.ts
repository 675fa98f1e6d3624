/** What a page works out itself, from the exact pixels of a frame or two. */
export * from './contours.js';
export * from './difference.js';
export * from './line.js';
export * from './mask-picture.js';
export * from './noise-picture.js';
export * from './patch.js';
export * from './point.js';
export * from './spectrum.js';
export * from './tiles.js';
export * from '../picture/paint.js';
export { parseCube, transformOf, CubeUnusable } from '../picture/viewing.js';
export type { Plane } from '../picture/frame.js';
