import type { Plane } from '../picture/frame.js';
import { lumaScale } from '../picture/signal.js';
import { blurred } from './blur.js';
import type { Runner } from './runner.js';
import { codeOf, copyOf } from './sequence.js';
import { numberOf } from './settings.js';

/** A sharpened sample goes at most this share of what is about it beyond the brightest and the darkest there. */
const BEYOND = 0.12;

/** Edges are steepened: what a blur would take away is added, where it stands above a threshold, and lines are held back. */
export const sharpen: Runner = {
  treatment: 'sharpen',
  settings: {
    radiusPx: { kind: 'number', unit: 'px', least: 0.3, most: 6, step: 0.1, otherwise: 1 },
    strengthPct: { kind: 'number', unit: '%', least: 0, most: 300, step: 10, otherwise: 80 },
    thresholdPct: { kind: 'number', unit: '%', least: 0, most: 20, step: 0.1, otherwise: 1 },
  },
  swept: 'strengthPct',
  sweepAbout: (value) => [0.25, 0.5, 0.75, 1, 1.5].map((k) => Math.min(300, Math.round(k * value))),
  neighbours: () => 0,
  begin: (study, settings) => {
    const { span, top } = lumaScale(study.sequence.clip);
    const rgb = study.sequence.clip.matrix === 'rgb';
    const threshold = (numberOf(settings, 'thresholdPct') / 100) * span;
    const strength = numberOf(settings, 'strengthPct') / 100;
    const radius = numberOf(settings, 'radiusPx');
    return {
      treat: (index) => ({
        planes: study.sequence.pictures[index].planes.map((plane, p) =>
          p === 0 || rgb ? sharpened(plane, radius, strength, threshold, top) : copyOf(plane),
        ),
      }),
    };
  },
};

const sharpened = (plane: Plane, sigma: number, strength: number, threshold: number, top: number): Plane => {
  const { width, height, samples } = plane;
  const soft = blurred(plane, sigma);
  const out = copyOf(plane);
  const about = Math.max(1, Math.round(sigma));
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const detail = samples[i] - soft[i];
      const size = Math.abs(detail);
      if (size <= threshold) continue;
      const value = samples[i] + strength * Math.sign(detail) * (size - threshold);
      const [low, high] = rangeAbout(plane, x, y, about);
      const room = BEYOND * (high - low);
      out.samples[i] = codeOf(Math.max(low - room, Math.min(high + room, value)), top);
    }
  return out;
};

/** The darkest and the brightest of the samples about one, in eight directions. */
const rangeAbout = (
  { width, height, samples }: Plane,
  x: number,
  y: number,
  about: number,
): [low: number, high: number] => {
  let [low, high] = [Infinity, -Infinity];
  for (let v = -about; v <= about; v += about)
    for (let u = -about; u <= about; u += about) {
      const [px, py] = [Math.max(0, Math.min(width - 1, x + u)), Math.max(0, Math.min(height - 1, y + v))];
      const s = samples[py * width + px];
      if (s < low) low = s;
      if (s > high) high = s;
    }
  return [low, high];
};
