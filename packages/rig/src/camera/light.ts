import { normal, seeded } from '../random.js';

/** Brightness of the light at an instant, 1 on average. */
export type Light = (timeSec: number) => number;

export const steady: Light = () => 1;

/** A lamp whose light swings sinusoidally: `depth` is half of peak-to-peak over mean. */
export const pulsing =
  (hz: number, depth: number, phase = 0): Light =>
  (t) =>
    1 + depth * Math.sin(2 * Math.PI * hz * t + phase);

/** One random level for each frame, as an unsteady iris or a worn projector gives. */
export const unsteady = (depth: number, frameRate: number, seed: number): Light => {
  const random = seeded(seed);
  const levels = Array.from({ length: 4096 }, () => 1 + depth * normal(random));
  return (t) =>
    Math.max(0.05, levels[Math.min(levels.length - 1, Math.max(0, Math.floor(t * frameRate + 1e-6)))]);
};

/** Down to black between two instants. */
export const fading =
  (fromSec: number, toSec: number): Light =>
  (t) =>
    t <= fromSec ? 1 : t >= toSec ? 0 : 1 - (t - fromSec) / (toSec - fromSec);

/** From one level to another between two instants; at once where they are the same: an iris, automatic exposure. */
export const changing =
  (fromSec: number, toSec: number, gain: number): Light =>
  (t) =>
    t < fromSec ? 1 : t >= toSec ? gain : 1 + ((gain - 1) * (t - fromSec)) / (toSec - fromSec);

/** One bright moment. */
export const flash =
  (atSec: number, forSec: number, gain: number): Light =>
  (t) =>
    t >= atSec && t < atSec + forSec ? gain : 1;

export const both =
  (a: Light, b: Light): Light =>
  (t) =>
    a(t) * b(t);

/** Mean brightness over an exposure that starts at `fromSec`. */
export const exposedLight = (light: Light, fromSec: number, forSec: number): number => {
  const samples = 16;
  let sum = 0;
  for (let i = 0; i < samples; i++) sum += light(fromSec + ((i + 0.5) / samples) * forSec);
  return sum / samples;
};
