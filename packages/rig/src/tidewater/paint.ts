import { fractal, seeded, valueNoise } from '../random.js';
import type { Colour, Ink, Texture } from '../scene/texture.js';

const scaled = ([r, g, b]: Colour, k: number): Colour => [r * k, g * k, b * k];

/** Brickwork: courses with staggered joints, every brick its own tone. */
export const bricks = (colour: Colour, widthPx: number, heightPx: number, seed: number): Ink => {
  const joint = Math.max(1.2, heightPx * 0.14);
  return (x, y) => {
    const course = Math.floor(y / heightPx);
    const shifted = x + (course % 2) * widthPx * 0.5;
    const brick = Math.floor(shifted / widthPx);
    const inJoint = y - course * heightPx < joint || shifted - brick * widthPx < joint;
    const soot = 0.55 + 0.9 * fractal(x / 260, y / 260, 4, seed);
    if (inJoint) return scaled([0.16, 0.15, 0.14], soot * (0.8 + 0.4 * valueNoise(x / 3, y / 3, seed + 1)));
    const tone = 0.65 + 0.6 * valueNoise(brick * 7.3, course * 3.7, seed + 2);
    return scaled(colour, soot * tone * (0.8 + 0.4 * fractal(x / 9, y / 9, 3, seed + 3)));
  };
};

/** Corrugated sheet with rust that runs down. */
export const corrugated =
  (colour: Colour, pitchPx: number, seed: number): Ink =>
  (x, y) => {
    const wave = 0.75 + 0.35 * Math.cos((2 * Math.PI * x) / pitchPx);
    const rust = Math.max(0, fractal(x / 40, y / 160, 4, seed) - 0.45) * 3;
    const base: Colour = [
      colour[0] * (1 - rust) + 0.3 * rust,
      colour[1] * (1 - rust) + 0.12 * rust,
      colour[2] * (1 - rust) + 0.05 * rust,
    ];
    return scaled(base, wave * (0.85 + 0.3 * valueNoise(x / 5, y / 5, seed + 1)));
  };

/** Boards laid side by side. */
export const planks =
  (colour: Colour, widthPx: number, seed: number): Ink =>
  (x, y) => {
    const board = Math.floor(x / widthPx);
    const gap = x - board * widthPx < 1.6 ? 0.35 : 1;
    return scaled(
      colour,
      gap *
        (0.7 + 0.5 * valueNoise(board * 5.1, 3, seed)) *
        (0.75 + 0.5 * fractal(x / 6, y / 70, 4, seed + 1)),
    );
  };

/** Sky from the top to the horizon, with thin cloud. */
export const sky =
  (top: Colour, horizon: Colour, horizonY: number, cloud: number, seed: number): Ink =>
  (x, y) => {
    const k = Math.min(1, Math.max(0, y / horizonY)) ** 1.4;
    const veil = 1 + cloud * (fractal(x / 420, y / 110, 5, seed) - 0.5);
    return [
      (top[0] + (horizon[0] - top[0]) * k) * veil,
      (top[1] + (horizon[1] - top[1]) * k) * veil,
      (top[2] + (horizon[2] - top[2]) * k) * veil,
    ];
  };

/** Ground seen at a slant: its texture is pressed flat towards the horizon. */
export const ground =
  (near: Colour, far: Colour, horizonY: number, bottom: number, seed: number): Ink =>
  (x, y) => {
    const depth = Math.max(0.02, (y - horizonY) / (bottom - horizonY));
    const k = 0.55 + 0.9 * fractal(x / (14 + 220 * depth), 40 * Math.log(depth + 0.02), 5, seed);
    const grit = 0.85 + 0.3 * valueNoise(x / 3, y / 2, seed + 4);
    return [
      (far[0] + (near[0] - far[0]) * depth) * k * grit,
      (far[1] + (near[1] - far[1]) * depth) * k * grit,
      (far[2] + (near[2] - far[2]) * depth) * k * grit,
    ];
  };

/** A window of small panes, some of them dirty or mended. */
export const paneWindow = (
  texture: Texture,
  x: number,
  y: number,
  width: number,
  height: number,
  columns: number,
  rows: number,
  light: Colour,
  seed: number,
): void => {
  const random = seeded(seed);
  texture.rectangle(x - 6, y - 6, width + 12, height + 12, [0.05, 0.05, 0.045]);
  const [w, h] = [width / columns, height / rows];
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) {
      const dirt = 0.35 + 0.65 * random();
      const pane = r * columns + c;
      texture.rectangle(x + c * w + 2, y + r * h + 2, w - 4, h - 4, (px, py) =>
        scaled(light, dirt * (0.75 + 0.4 * fractal(px / 50, py / 50, 3, seed + pane))),
      );
    }
};

/** A saddle-tank locomotive of the narrow gauge, seen from the side; `size` is its height. */
export const locomotive = (
  texture: Texture,
  x: number,
  y: number,
  size: number,
  colour: Colour,
  seed: number,
): void => {
  const s = size;
  const coat: Ink = (px, py) => scaled(colour, 0.7 + 0.6 * fractal(px / 30, py / 30, 4, seed));
  const iron: Ink = (px, py) =>
    scaled([0.06, 0.06, 0.065], 0.6 + 0.9 * fractal(px / 12, py / 12, 3, seed + 1));
  const shine: Ink = (px, py) => {
    const up = 1 - Math.abs((py - (y - s * 0.62)) / (s * 0.2));
    return scaled(colour, 0.5 + 1.5 * Math.max(0, up) ** 2 + 0.3 * fractal(px / 25, py / 25, 4, seed + 2));
  };
  texture.rectangle(x, y - s * 0.3, s * 1.9, s * 0.12, iron);
  texture.rectangle(x + s * 0.12, y - s * 0.8, s * 1.15, s * 0.38, shine);
  texture.ellipse(x + s * 0.13, y - s * 0.61, s * 0.06, s * 0.19, iron);
  texture.rectangle(x + s * 0.2, y - s * 1.15, s * 0.14, s * 0.36, iron);
  texture.rectangle(x + s * 0.17, y - s * 1.2, s * 0.2, s * 0.07, iron);
  texture.ellipse(x + s * 0.75, y - s * 0.84, s * 0.11, s * 0.11, (px, py) =>
    scaled([0.5, 0.36, 0.12], 0.5 + 0.9 * fractal(px / 20, py / 20, 3, seed + 3)),
  );
  texture.rectangle(x + s * 1.3, y - s * 1.1, s * 0.5, s * 0.8, coat);
  texture.rectangle(x + s * 1.38, y - s * 1.0, s * 0.24, s * 0.24, [0.015, 0.015, 0.02]);
  texture.rectangle(x + s * 1.22, y - s * 1.16, s * 0.68, s * 0.07, iron);
  for (const at of [0.4, 0.85, 1.35]) {
    texture.ellipse(x + s * at, y - s * 0.13, s * 0.17, s * 0.17, iron);
    texture.ellipse(x + s * at, y - s * 0.13, s * 0.12, s * 0.12, coat);
    texture.ellipse(x + s * at, y - s * 0.13, s * 0.04, s * 0.04, [0.3, 0.3, 0.3]);
  }
  texture.line(x + s * 0.4, y - s * 0.1, x + s * 1.35, y - s * 0.1, s * 0.05, [0.35, 0.34, 0.32]);
};
