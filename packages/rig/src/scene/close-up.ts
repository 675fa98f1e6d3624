import { seeded } from '../random.js';
import type { Placement, Scene } from './scene.js';
import { foliageStudy, layer, plate } from './studies.js';
import { textured, type Colour } from './texture.js';

const SKIN: Colour = [0.36, 0.24, 0.18];
const FRECKLES = 2600;

/**
 * Test picture: a freckled head and its shoulders fill most of the picture and sway before foliage: what goes the same way in
 * most places is no camera.
 */
export const closeUpStudy = (width: number, height: number, seed: number, marginPx = 40): Scene => {
  const behind = foliageStudy(width, height, seed, marginPx);
  const person = plate(width, height, marginPx);
  const { width: w, height: h } = person;
  const [cx, cy, rx, ry] = [w * 0.5, h * 0.44, w * 0.26, h * 0.36];
  person.ellipse(cx, h * 1.02, w * 0.36, h * 0.3, textured([0.1, 0.11, 0.16], 0.5, 24, seed + 1));
  person.ellipse(cx, cy, rx, ry, textured(SKIN, 0.25, 30, seed + 2));
  const random = seeded(seed + 3);
  for (let i = 0; i < FRECKLES; i++) {
    const [u, v] = [2 * random() - 1, 2 * random() - 1];
    const r = 1.2 + 2.2 * random();
    const k = random() < 0.6 ? 0.45 : 1.5;
    if (u * u + v * v > 0.92) continue;
    person.ellipse(cx + rx * u, cy + ry * v, r, r, [SKIN[0] * k, SKIN[1] * k, SKIN[2] * k], 1);
  }
  const swaying: Placement = (t) => ({
    x: 0.03 * width * Math.sin(2.2 * t + 0.4) + 0.008 * width * Math.sin(5.3 * t),
    y: 0.012 * height * Math.sin(3.1 * t),
  });
  return { ...behind, layers: [...behind.layers, layer(person, 1, swaying)] };
};
