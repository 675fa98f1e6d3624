import { fractal, seeded } from '../random.js';
import { deadLeaves } from './leaves.js';
import { standing, type Layer, type Placement, type Scene } from './scene.js';
import { mixed, Texture, textured, type Colour } from './texture.js';

const TEXELS_PER_PIXEL = 2;

/** A plate with room around the picture for the camera to move. */
export const plate = (width: number, height: number, marginPx: number): Texture =>
  new Texture((width + 2 * marginPx) * TEXELS_PER_PIXEL, (height + 2 * marginPx) * TEXELS_PER_PIXEL);

export const layer = (texture: Texture, parallax = 1, place = standing()): Layer => ({
  texture,
  texelsPerPixel: TEXELS_PER_PIXEL,
  parallax,
  place,
});

export const FOLIAGE: readonly Colour[] = [
  [0.05, 0.12, 0.03],
  [0.1, 0.18, 0.05],
  [0.2, 0.22, 0.08],
  [0.03, 0.06, 0.02],
  [0.3, 0.25, 0.12],
];
export const STONE: readonly Colour[] = [
  [0.3, 0.28, 0.25],
  [0.2, 0.2, 0.21],
  [0.45, 0.42, 0.38],
  [0.12, 0.11, 0.1],
];

/** Test picture: foliage from edge to edge; the hardest ground for a noise reading. */
export const foliageStudy = (width: number, height: number, seed: number, marginPx = 40): Scene => {
  const texture = plate(width, height, marginPx);
  texture.fill(textured([0.1, 0.12, 0.08], 0.4, 60, seed));
  deadLeaves(texture, seed, FOLIAGE);
  return { layers: [layer(texture)], ground: [0.1, 0.12, 0.08] };
};

/** Test picture: sky, a plastered wall in sun and shade, rubble below. */
export const wallStudy = (width: number, height: number, seed: number, marginPx = 40): Scene => {
  const texture = plate(width, height, marginPx);
  const { width: w, height: h } = texture;
  texture.fill((x, y) => mixed([0.35, 0.48, 0.7], [0.75, 0.78, 0.8], Math.min(1, y / (h * 0.5)) + 0 * x));
  texture.rectangle(w * 0.12, h * 0.25, w * 0.7, h * 0.75, textured([0.42, 0.36, 0.3], 0.12, 90, seed));
  texture.polygon(
    [
      [w * 0.45, h * 0.25],
      [w * 0.82, h * 0.25],
      [w * 0.82, h],
      [w * 0.6, h],
    ],
    textured([0.12, 0.11, 0.12], 0.12, 70, seed + 1),
  );
  for (let i = 0; i < 4; i++)
    texture.rectangle(
      w * (0.17 + i * 0.16),
      h * 0.38,
      w * 0.07,
      h * 0.2,
      textured([0.02, 0.03, 0.05], 0.5, 30, seed + i),
    );
  deadLeaves(
    texture,
    seed,
    STONE,
    { x: 0, y: h * 0.78, width: w, height: h * 0.22 },
    { smallest: 5, largest: h * 0.08 },
  );
  return { layers: [layer(texture)], ground: [0.2, 0.2, 0.2] };
};

/**
 * Test picture: what stands as still as a fault of the sensor in a shot that is held: brick, lettering, wires, tape and a
 * lattice, down to a pixel; and plain ground between.
 */
export const bricksStudy = (width: number, height: number, seed: number, marginPx = 40): Scene => {
  const texture = plate(width, height, marginPx);
  const { width: w, height: h } = texture;
  const random = seeded(seed);
  texture.fill((x, y) => mixed([0.4, 0.5, 0.65], [0.62, 0.66, 0.7], Math.min(1, y / (h * 0.4)) + 0 * x));
  const [brickWide, brickHigh] = [44, 18];
  for (let y = h * 0.42, row = 0; y < h; y += brickHigh, row++)
    for (let x = -brickWide * (row % 2) * 0.5; x < w * 0.55; x += brickWide) {
      const tone = 0.7 + 0.6 * random();
      const clay: Colour = [0.24 * tone, 0.12 * tone, 0.08 * tone];
      texture.rectangle(x, y, brickWide - 4, brickHigh - 4, textured(clay, 0.3, 9, seed + row));
    }
  texture.rectangle(w * 0.6, h * 0.5, w * 0.34, h * 0.36, [0.7, 0.68, 0.6]);
  for (let line = 0; line < 14; line++)
    for (let x = w * 0.62; x < w * 0.92; x += 9 + 5 * random()) {
      const y = h * 0.52 + line * h * 0.023;
      if (random() < 0.16) continue;
      texture.rectangle(x, y, 2 + 2 * random(), 9, [0.05, 0.05, 0.06]);
      if (random() < 0.6) texture.rectangle(x, y + 4 * random(), 6, 2, [0.05, 0.05, 0.06]);
      if (random() < 0.3) texture.ellipse(x + 3, y - 3, 1.4, 1.4, [0.05, 0.05, 0.06], 1);
    }
  for (let i = 0; i < 7; i++)
    texture.line(0, h * (0.05 + 0.03 * i), w, h * (0.12 + 0.02 * i), 1.6, [0.08, 0.08, 0.1]);
  const [mastX, mastW] = [w * 0.78, w * 0.07];
  for (let y = h * 0.06; y < h * 0.48; y += 26) {
    texture.line(mastX, y, mastX + mastW, y + 26, 2.4, [0.5, 0.5, 0.52]);
    texture.line(mastX + mastW, y, mastX, y + 26, 2.4, [0.5, 0.5, 0.52]);
  }
  for (let x = w * 0.05; x < w * 0.55; x += 40) {
    texture.rectangle(x, h * 0.9, 20, 9, [0.75, 0.72, 0.7]);
    texture.rectangle(x + 20, h * 0.9, 20, 9, [0.55, 0.05, 0.04]);
  }
  for (let i = 0; i < 60; i++)
    texture.ellipse(
      random() * w,
      h * (0.42 + 0.56 * random()),
      1 + 1.5 * random(),
      1 + 1.5 * random(),
      [0.85, 0.85, 0.8],
      1,
    );
  return { layers: [layer(texture)], ground: [0.3, 0.3, 0.3] };
};

/** Test picture: a lit room at night; most of it below a quarter of the range, with lamps. */
export const nightStudy = (width: number, height: number, seed: number, marginPx = 40): Scene => {
  const texture = plate(width, height, marginPx);
  const { width: w, height: h } = texture;
  texture.fill(textured([0.03, 0.028, 0.03], 0.3, 80, seed));
  deadLeaves(
    texture,
    seed,
    STONE,
    { x: 0, y: h * 0.5, width: w, height: h * 0.5 },
    { smallest: 6, largest: h * 0.15, cover: 1.2 },
  );
  texture.shade(
    (x, y) => 0.12 + 1.1 * Math.exp(-((x - w * 0.35) ** 2 + (y - h * 0.4) ** 2) / (2 * (w * 0.16) ** 2)),
  );
  const random = seeded(seed);
  for (let i = 0; i < 9; i++) texture.ellipse(random() * w, random() * h * 0.5, 6, 6, [0.8, 0.7, 0.5], 3);
  return { layers: [layer(texture)], ground: [0.02, 0.02, 0.02] };
};

/** Test picture: a wide plain sky whose light falls slowly, over a dark textured shore. */
export const duskStudy = (width: number, height: number, seed: number, marginPx = 40): Scene => {
  const texture = plate(width, height, marginPx);
  const { width: w, height: h } = texture;
  texture.fill((x, y) => {
    const k = Math.min(1, y / (h * 0.72));
    const glow = Math.exp(-(((x - w * 0.62) / (w * 0.45)) ** 2) - ((k - 1) / 0.6) ** 2);
    return [0.05 + 0.1 * k + 0.2 * glow, 0.07 + 0.1 * k + 0.1 * glow, 0.14 + 0.08 * k + 0.03 * glow];
  });
  deadLeaves(
    texture,
    seed,
    STONE.map(([r, g, b]) => [r * 0.35, g * 0.35, b * 0.4] as const),
    { x: 0, y: h * 0.72, width: w, height: h * 0.28 },
    { smallest: 5, largest: h * 0.07 },
  );
  return { layers: [layer(texture)], ground: [0.08, 0.08, 0.1] };
};

/**
 * Test picture: open ground that holds the last light in its pools, and before it posts, grass and a rail, which move twice
 * as far when the camera goes aside: no one place of the camera lays both over one another.
 */
export const shoreStudy = (width: number, height: number, seed: number, marginPx = 40): Scene => {
  const far = plate(width, height, marginPx);
  const { width: w, height: h } = far;
  const horizon = h * 0.4;
  const evening = (y: number): Colour => mixed([0.05, 0.08, 0.16], [0.4, 0.24, 0.15], y / horizon);
  far.fill((_, y) => evening(Math.min(horizon, y)));
  far.rectangle(0, horizon, w, h, textured([0.09, 0.075, 0.06], 0.4, 50, seed));
  far.paint(
    { x: 0, y: horizon, width: w, height: h - horizon },
    (_, y) => evening(horizon - (y - horizon) * 0.6),
    (x, y) => {
      const depth = (y - horizon) / (h - horizon);
      const pool = fractal(x / (30 + 250 * depth), 9 * Math.log(depth + 0.05), 4, seed + 1);
      return Math.max(0, Math.min(1, (pool - 0.55) * 18));
    },
  );
  const near = plate(width, height, marginPx);
  const random = seeded(seed + 2);
  for (let i = 0; i < 24; i++) {
    const depth = 0.2 + (0.8 * i) / 24;
    const [x, foot] = [w * random(), horizon + (h - horizon) * depth];
    const grain = textured([0.03, 0.027, 0.026], 0.8, 20, seed + 3 + i);
    near.line(x, foot, x + 14 * (random() - 0.5), foot - h * 0.22 * depth, 2 + 7 * depth, grain);
  }
  near.rectangle(0, h * 0.72, w, 5, textured([0.05, 0.04, 0.035], 0.6, 25, seed + 40));
  deadLeaves(
    near,
    seed + 41,
    FOLIAGE.map(([r, g, b]) => [r * 0.3, g * 0.3, b * 0.3] as const),
    { x: 0, y: h * 0.88, width: w, height: h * 0.12 },
    { smallest: 5, largest: h * 0.04, cover: 1.2 },
  );
  return { layers: [layer(far, 0.6), layer(near, 1.2)], ground: [0.03, 0.03, 0.03] };
};

/**
 * Test picture: leaves that drift by on a stream, and before them a post full of flecks that stands still: most of what a
 * held camera sees goes the same way, as if the camera went.
 */
export const streamStudy = (width: number, height: number, seed: number, marginPx = 40): Scene => {
  const stream = plate(width, height, marginPx);
  deadLeaves(stream, seed, FOLIAGE);
  const post = plate(width, height, marginPx);
  const { width: w, height: h } = post;
  const [left, across] = [w * 0.14, w * 0.16];
  post.rectangle(left, 0, across, h, textured([0.16, 0.13, 0.1], 0.3, 60, seed + 1));
  const random = seeded(seed + 2);
  for (let i = 0; i < 900; i++) {
    const r = 1 + 1.6 * random();
    const k = random() < 0.5 ? 0.05 : 0.5;
    post.ellipse(left + 6 + (across - 12) * random(), h * random(), r, r, [k, k * 0.9, k * 0.8], 1);
  }
  const drifting: Placement = (t) => ({ x: 14 * t + 1.5 * Math.sin(4.1 * t), y: Math.sin(1.3 * t) });
  return { layers: [layer(stream, 1, drifting), layer(post)], ground: [0.1, 0.12, 0.08] };
};

/** Test picture: clouds from edge to edge, whose softest and hardest borders are many pixels wide: nothing tells how sharp the lens is. */
export const cloudsStudy = (width: number, height: number, seed: number, marginPx = 40): Scene => {
  const texture = plate(width, height, marginPx);
  const { width: w, height: h } = texture;
  texture.fill((x, y) => {
    const heap = fractal((x / w) * 3, (y / h) * 2, 4, seed);
    const lit = fractal((x / w) * 5, (y / h) * 4, 3, seed + 7);
    const share = Math.max(0, Math.min(1, (heap - 0.4) * 12));
    const k = 0.3 + 0.45 * lit;
    return mixed([0.16, 0.26, 0.5], [k, k, k * 0.98], share * share * (3 - 2 * share));
  });
  return { layers: [layer(texture)], ground: [0.3, 0.3, 0.32] };
};

const CLOTH_TEXELS = 4;

/** Test picture: a wall, and before it a piece of plain-woven cloth with this many threads a pixel. */
export const clothStudy = (
  width: number,
  height: number,
  seed: number,
  marginPx: number,
  cyclesPerPx: number,
  coloured: boolean,
): Scene => {
  const wall = wallStudy(width, height, seed, marginPx);
  const [w, h] = [Math.round(width * 0.32) * CLOTH_TEXELS, Math.round(height * 0.5) * CLOTH_TEXELS];
  const cloth = new Texture(w, h);
  const turn = 2 * Math.PI * (cyclesPerPx / CLOTH_TEXELS);
  // Threads are never quite in line with the sensor.
  const [ax, ay] = [Math.cos(0.05) * turn, Math.sin(0.05) * turn];
  cloth.fill((x, y) => {
    const fold = 1 + 0.25 * (fractal((x / w) * 5, (y / h) * 3, 4, seed + 3) - 0.5);
    const thread = Math.sin(ax * x + ay * y);
    const k = 0.22 * fold * (1 + 0.6 * thread);
    return coloured ? [k * 1.5, 0.22 * fold - 0.35 * (k - 0.22 * fold), k * 0.6] : [k, k * 0.96, k * 0.9];
  });
  return {
    ...wall,
    layers: [
      ...wall.layers,
      { texture: cloth, texelsPerPixel: CLOTH_TEXELS, parallax: 1, place: standing() },
    ],
  };
};

/** A walker about as tall as `heightPx`, drawn on a plate of its own so that it can move through a scene. */
export const walker = (heightPx: number, seed: number, coat: Colour = [0.16, 0.09, 0.06]): Texture => {
  const h = heightPx * TEXELS_PER_PIXEL;
  const texture = new Texture(Math.ceil(h * 0.5), Math.ceil(h));
  const cx = texture.width / 2;
  const cloth = textured(coat, 0.4, h / 12, seed);
  texture.polygon(
    [
      [cx - h * 0.1, h * 0.5],
      [cx + h * 0.1, h * 0.5],
      [cx + h * 0.16, h],
      [cx + h * 0.04, h],
    ],
    textured([0.05, 0.05, 0.07], 0.4, h / 10, seed + 1),
  );
  texture.polygon(
    [
      [cx - h * 0.1, h * 0.5],
      [cx + h * 0.02, h * 0.5],
      [cx - h * 0.05, h],
      [cx - h * 0.16, h],
    ],
    textured([0.06, 0.06, 0.08], 0.4, h / 10, seed + 2),
  );
  texture.ellipse(cx, h * 0.36, h * 0.13, h * 0.21, cloth);
  texture.line(cx - h * 0.11, h * 0.24, cx - h * 0.2, h * 0.5, h * 0.06, cloth);
  texture.line(cx + h * 0.11, h * 0.24, cx + h * 0.19, h * 0.48, h * 0.06, cloth);
  texture.ellipse(cx, h * 0.09, h * 0.06, h * 0.075, textured([0.45, 0.28, 0.2], 0.15, h / 20, seed + 3));
  texture.ellipse(cx, h * 0.05, h * 0.075, h * 0.035, [0.08, 0.08, 0.09]);
  return texture;
};
