import type { Scene } from '../scene/scene.js';
import { layer, walker } from '../scene/studies.js';
import type { Colour } from '../scene/texture.js';

export const MARGIN = 70;

/** Somebody who walks along a line: from the left edge of the picture on, in output pixels. */
export const walkerLayer = (
  height: number,
  tall: number,
  fromX: number,
  pxPerSec: number,
  feetY: number,
  seed: number,
  coat: Colour,
): Scene['layers'][number] =>
  layer(walker(height * tall, seed, coat), 1, (t) => ({
    x: fromX + pxPerSec * t,
    y: feetY - (height * tall) / 2 + 2 * Math.sin(t * 11),
  }));
