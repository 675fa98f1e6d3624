import type { CameraStep } from '../../packages/core/src/motion/motion-analysis.js';

/** The step of a camera that all of the picture follows, known without error. For tests of what is made of steps. */
export const cameraStep = (dx: number, dy = 0, zoom = 0): CameraStep => ({
  dx,
  dy,
  zoom,
  turn: 0,
  following: 1,
  otherwise: 0,
  bands: new Float32Array(),
  known: new Float32Array(),
  error: { x: 0, y: 0 },
});
