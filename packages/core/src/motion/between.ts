import { halve, type Level } from '../picture/pyramid.js';
import { prepare, register } from './register.js';
import { STILL, type Similarity } from './similarity.js';

/** Pictures are registered at no more than this width: a few hundredths of a pixel are forgiven. */
const REGISTERED_WIDTH = 640;
/** Tracked points that must agree on a motion before two frames count as registered. */
const LEAST_FOLLOWING = 0.25;

/** How the camera moved between two pictures, pixels of theirs, whether enough of them agrees, and the standard error at the middle of an edge. */
export const cameraBetween = (a: Level, b: Level): { motion: Similarity; sure: boolean; error: number } => {
  let [first, second, scale] = [a, b, 1];
  while (first.width > REGISTERED_WIDTH) [first, second, scale] = [halve(first), halve(second), scale * 2];
  const found = register(prepare(first), prepare(second));
  if (!found) return { motion: STILL, sure: false, error: Infinity };
  const { motion, following, error } = found;
  return {
    motion: { ...motion, dx: motion.dx * scale, dy: motion.dy * scale },
    sure: following >= LEAST_FOLLOWING,
    error: error * scale,
  };
};
