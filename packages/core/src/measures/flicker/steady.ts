import { halfInterval } from '../uncertainty.js';
import { flicker as described } from './descriptor.js';
import type { ShotFlicker } from './pattern.js';

/** Light that swings less than this, %, is steady. */
export const STEADY_PCT = 0.4;

/** What is asked of the light of a shot. */
type Light = Pick<ShotFlicker, 'regular' | 'depth' | 'rms' | 'depthError'>;

/** Half of peak-to-peak over mean, fraction: of light without a rhythm √2 times its RMS. */
export const depthOf = ({ regular, depth, rms }: Light): number => (regular ? depth : Math.SQRT2 * rms);

/**
 * Whether the light of a shot is steady. Light that repeats itself is told by that; what does not must leave its level by more
 * than it could by its own error.
 */
export const isSteady = (light: Light): boolean => {
  const depthPct = 100 * depthOf(light);
  const half = halfInterval(described.figures.depthPct, depthPct, 100 * light.depthError) ?? 0;
  return (light.regular ? depthPct : depthPct - half) < STEADY_PCT;
};

/** The shot with the most flicker: the deepest of those that flicker, or of all where none does. */
export const worstOf = <T extends Light>(shots: readonly T[]): T => {
  const flickering = shots.filter((s) => !isSteady(s));
  return (flickering.length > 0 ? flickering : shots).reduce((a, b) => (depthOf(b) > depthOf(a) ? b : a));
};
