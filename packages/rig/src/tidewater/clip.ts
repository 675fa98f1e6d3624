import type { Codec, Storage } from '@bevrin/media';
import { steady } from '../camera/light.js';
import { cleanSensor } from '../camera/sensor.js';
import type { ClipRecipe } from '../recipe.js';
import type { RenderTruth } from '../render.js';

/** One true figure of a clip: what was put in, and the reading that must find it. */
export interface Truth {
  readonly what: string;
  readonly reading: string;
  readonly value: number;
  readonly unit: string;
}

export interface ScenarioClip {
  readonly name: string;
  readonly codec: Codec;
  readonly storage?: Storage;
  readonly recipe: () => ClipRecipe;
  readonly truth: (rendered: RenderTruth) => Truth[];
}

export const WIDTH = 1280;
export const HEIGHT = 720;
export const common = {
  width: WIDTH,
  height: HEIGHT,
  frames: 100,
  frameRate: '25/1',
  shutter: 0.5,
  readout: 0,
  light: steady,
  lensSigmaPx: 0.6,
  format: { bitDepth: 8, chroma: '420' },
} as const;
/** What every real sensor has; far below any limit. */
export const quiet = { ...cleanSensor, noisePct: [0.35, 0.3, 0.4] as const };
export const one = (
  scene: ClipRecipe['shots'][number]['scene'],
  camera: ClipRecipe['shots'][number]['camera'],
): ClipRecipe['shots'] => [{ startFrame: 0, scene, camera }];
/** Luma noise as it was put in; the demo says instead what the codec left of it. */
export const lumaNoise = ({ noisePct }: RenderTruth): Truth => ({
  what: 'luma noise',
  reading: 'noise.lumaPct',
  value: noisePct.luma,
  unit: '%',
});
export const round = (v: number): number => Math.round(v * 1000) / 1000;

/** Root mean square of the picture's displacement about its mean, % of the width. */
export const jitterPct = ({ poses }: RenderTruth, width: number, panPerFrame = 0): number => {
  const about = (v: number[]): number => {
    const mean = v.reduce((a, b) => a + b, 0) / v.length;
    return v.reduce((sum, p) => sum + (p - mean) ** 2, 0) / v.length;
  };
  const power = about(poses.map((p, f) => p.x - panPerFrame * f)) + about(poses.map((p) => p.y));
  return round((100 * Math.sqrt(power)) / width);
};
export const none = (what: string, reading: string, unit = ''): Truth => ({ what, reading, value: 0, unit });
/** What a clean clip must not be found to have. */
export const nothingWrong: readonly Truth[] = [
  none('swing of the light', 'flicker.depthPct', '%'),
  none('faults of the sensor', 'hotPixels.count', 'places'),
  none('banding', 'banding.index'),
  none('moiré', 'moire.index'),
];
