import { fractal, seeded } from '../random.js';
import type { Scene } from '../scene/scene.js';
import { deadLeaves } from '../scene/leaves.js';
import { FOLIAGE, layer, plate, STONE } from '../scene/studies.js';
import { Texture, type Colour } from '../scene/texture.js';
import { bricks, corrugated, ground, locomotive, paneWindow, planks, sky } from './paint.js';
import { MARGIN, walkerLayer } from './people.js';

/** Dusk over the mudflats: creeks that hold the last light, stakes, the causeway far out. */
export const mudflats = (width: number, height: number): Scene => {
  const far = plate(width, height, MARGIN + 60);
  const { width: w, height: h } = far;
  const horizon = h * 0.42;
  const evening = sky([0.05, 0.08, 0.16], [0.42, 0.24, 0.15], horizon, 0.5, 61);
  far.fill(evening);
  far.rectangle(0, horizon - 10, w, 14, (x) => {
    const k = 0.4 + 0.5 * fractal(x / 70, 3, 4, 62);
    return [0.03 * k, 0.03 * k, 0.04 * k];
  });
  far.rectangle(0, horizon, w, h - horizon, ground([0.09, 0.075, 0.06], [0.1, 0.075, 0.06], horizon, h, 63));
  far.paint(
    { x: 0, y: horizon, width: w, height: h - horizon },
    (x, y) => (evening as (x: number, y: number) => Colour)(x, horizon - (y - horizon) * 0.7),
    (x, y) => {
      const depth = (y - horizon) / (h - horizon);
      return Math.max(
        0,
        Math.min(1, (fractal(x / (60 + 500 * depth), 9 * Math.log(depth + 0.05), 4, 64) - 0.56) * 18),
      );
    },
  );
  const near = plate(width, height, MARGIN + 60);
  const random = seeded(65);
  for (let i = 0; i < 26; i++) {
    const depth = 0.15 + 0.85 * (i / 26);
    const x = w * (0.04 + 0.92 * random());
    const foot = horizon + (h - horizon) * depth;
    near.line(x, foot, x + 14 * (random() - 0.5), foot - h * 0.2 * depth, 3 + 9 * depth, (px, py) => {
      const k = 0.4 + 0.8 * fractal(px / 8, py / 20, 3, 66);
      return [0.03 * k, 0.026 * k, 0.026 * k];
    });
  }
  deadLeaves(
    near,
    67,
    [
      [0.05, 0.05, 0.02],
      [0.03, 0.04, 0.02],
      [0.07, 0.06, 0.03],
    ],
    { x: 0, y: h * 0.9, width: w, height: h * 0.1 },
    { smallest: 5, largest: h * 0.03, cover: 1.2 },
  );
  return { layers: [layer(far, 0.6), layer(near, 1.2)], ground: [0.03, 0.03, 0.03] };
};

/** The halt on a bright morning: a shelter, a fence, the hedge, people waiting. Nothing is wrong here. */
export const halt = (width: number, height: number): Scene => {
  const back = plate(width, height, MARGIN);
  const { width: w, height: h } = back;
  back.fill(sky([0.3, 0.42, 0.62], [0.6, 0.64, 0.66], h * 0.5, 0.35, 71));
  deadLeaves(
    back,
    72,
    FOLIAGE,
    { x: 0, y: h * 0.3, width: w, height: h * 0.36 },
    { smallest: 6, largest: h * 0.06, cover: 1.8 },
  );
  back.rectangle(0, h * 0.66, w, h * 0.34, ground([0.38, 0.36, 0.32], [0.3, 0.29, 0.26], h * 0.62, h, 73));
  back.rectangle(0, h * 0.9, w, h * 0.03, [0.55, 0.54, 0.5]);
  const front = new Texture(w, h);
  front.rectangle(w * 0.3, h * 0.34, w * 0.36, h * 0.38, bricks([0.42, 0.22, 0.14], 40, 16, 74));
  front.polygon(
    [
      [w * 0.27, h * 0.35],
      [w * 0.33, h * 0.24],
      [w * 0.63, h * 0.24],
      [w * 0.69, h * 0.35],
    ],
    corrugated([0.3, 0.32, 0.33], 22, 75),
  );
  front.rectangle(w * 0.36, h * 0.44, w * 0.1, h * 0.28, planks([0.08, 0.2, 0.16], 24, 76));
  paneWindow(front, w * 0.51, h * 0.44, w * 0.11, h * 0.13, 3, 2, [0.2, 0.24, 0.28], 77);
  for (let i = 0; i < 34; i++)
    front.rectangle(w * (i / 34), h * 0.58, 9, h * 0.13, planks([0.6, 0.58, 0.54], 30, 78 + i));
  front.rectangle(0, h * 0.6, w * 0.3, 9, [0.55, 0.53, 0.5]);
  front.rectangle(w * 0.66, h * 0.6, w * 0.34, 9, [0.55, 0.53, 0.5]);
  deadLeaves(
    front,
    79,
    STONE,
    { x: 0, y: h * 0.95, width: w, height: h * 0.05 },
    { smallest: 5, largest: 26, cover: 1.6 },
  );
  return {
    layers: [
      layer(back, 0.85),
      layer(front),
      walkerLayer(height, 0.34, width * 0.3, -34, height * 0.27, 91, [0.4, 0.12, 0.1]),
      walkerLayer(height, 0.42, -width * 0.45, 55, height * 0.36, 92, [0.12, 0.16, 0.3]),
    ],
    ground: [0.3, 0.3, 0.3],
  };
};

/** A cutting between wooded banks, from the footplate: rails that run to a bridge. */
export const cutting = (width: number, height: number): Scene => {
  const back = plate(width, height, MARGIN + 60);
  const { width: w, height: h } = back;
  back.fill(sky([0.34, 0.45, 0.6], [0.62, 0.66, 0.66], h * 0.4, 0.4, 101));
  for (const [x, seed] of [
    [0, 102],
    [0.56, 103],
  ] as const)
    deadLeaves(
      back,
      seed,
      FOLIAGE,
      { x: w * x, y: h * 0.14, width: w * 0.44, height: h * 0.62 },
      { smallest: 6, largest: h * 0.08, cover: 2 },
    );
  back.rectangle(w * 0.4, h * 0.3, w * 0.2, h * 0.2, bricks([0.3, 0.2, 0.16], 30, 12, 104));
  back.ellipse(w * 0.5, h * 0.5, w * 0.055, h * 0.13, [0.35, 0.38, 0.36]);
  const bed = ground([0.3, 0.28, 0.25], [0.22, 0.21, 0.19], h * 0.48, h, 105);
  back.polygon(
    [
      [w * 0.46, h * 0.5],
      [w * 0.54, h * 0.5],
      [w * 0.95, h],
      [w * 0.05, h],
    ],
    bed,
  );
  for (let i = 0; i < 22; i++) {
    const k = (i / 22) ** 1.8;
    const y = h * (0.52 + 0.48 * k);
    back.rectangle(w * (0.5 - 0.025 - 0.3 * k), y, w * (0.05 + 0.6 * k), 3 + 22 * k, [0.11, 0.09, 0.07]);
  }
  for (const side of [-1, 1])
    back.line(w * (0.5 + side * 0.012), h * 0.5, w * (0.5 + side * 0.2), h, 7, [0.5, 0.49, 0.47]);
  const front = new Texture(w, h);
  front.polygon(
    [
      [w * 0.84, h * 0.1],
      [w * 1.0, h * 0.1],
      [w * 1.0, h],
      [w * 0.8, h],
    ],
    (x, y) => {
      const k = 0.6 + 0.7 * fractal(x / 40, y / 60, 4, 106);
      return [0.03 * k, 0.1 * k, 0.06 * k];
    },
  );
  front.ellipse(w * 0.9, h * 0.35, 60, 60, [0.35, 0.26, 0.1]);
  front.ellipse(w * 0.9, h * 0.35, 48, 48, [0.02, 0.03, 0.05]);
  return { layers: [layer(back), layer(front, 0.2)], ground: [0.2, 0.2, 0.2] };
};

/** The whole sky after sunset over a low black shore. */
export const lastLight = (width: number, height: number): Scene => {
  const texture = plate(width, height, MARGIN);
  const { width: w, height: h } = texture;
  texture.fill((x, y) => {
    const k = Math.min(1, y / (h * 0.76));
    const glow = Math.exp(-(((x - w * 0.6) / (w * 0.5)) ** 2) - ((k - 1) / 0.7) ** 2);
    return [0.04 + 0.06 * k + 0.2 * glow, 0.06 + 0.07 * k + 0.1 * glow, 0.13 + 0.06 * k + 0.03 * glow];
  });
  deadLeaves(
    texture,
    131,
    STONE.map(([r, g, b]) => [r * 0.3, g * 0.3, b * 0.34] as const),
    { x: 0, y: h * 0.78, width: w, height: h * 0.22 },
    { smallest: 5, largest: h * 0.05 },
  );
  for (let i = 0; i < 7; i++)
    texture.line(w * (0.1 + i * 0.13), h * 0.8, w * (0.1 + i * 0.13), h * 0.64, 6, [0.015, 0.015, 0.02]);
  return { layers: [layer(texture)], ground: [0.03, 0.03, 0.04] };
};

/** Frost at night: stars over the sheds, one lit window. */
export const frost = (width: number, height: number): Scene => {
  const texture = plate(width, height, MARGIN + 40);
  const { width: w, height: h } = texture;
  texture.fill(sky([0.012, 0.016, 0.035], [0.05, 0.055, 0.07], h * 0.6, 0.5, 141));
  const random = seeded(142);
  for (let i = 0; i < 240; i++) {
    const k = 0.08 + 0.7 * random() ** 4;
    texture.ellipse(random() * w, random() * h * 0.58, 1.6 + 1.6 * k, 1.6 + 1.6 * k, [k, k, k * 1.05], 2);
  }
  texture.rectangle(
    0,
    h * 0.68,
    w,
    h * 0.32,
    ground([0.12, 0.13, 0.15], [0.07, 0.075, 0.09], h * 0.66, h, 143),
  );
  texture.rectangle(w * 0.16, h * 0.46, w * 0.34, h * 0.26, bricks([0.06, 0.045, 0.04], 36, 14, 144));
  texture.polygon(
    [
      [w * 0.13, h * 0.47],
      [w * 0.2, h * 0.38],
      [w * 0.46, h * 0.38],
      [w * 0.53, h * 0.47],
    ],
    corrugated([0.12, 0.13, 0.15], 24, 145),
  );
  paneWindow(texture, w * 0.3, h * 0.53, w * 0.07, h * 0.1, 3, 3, [0.7, 0.5, 0.22], 146);
  deadLeaves(
    texture,
    147,
    FOLIAGE.map(([r, g, b]) => [r * 0.35, g * 0.3, b * 0.5] as const),
    { x: w * 0.58, y: h * 0.5, width: w * 0.42, height: h * 0.24 },
    { smallest: 5, largest: h * 0.05, cover: 1.6 },
  );
  return { layers: [layer(texture)], ground: [0.02, 0.02, 0.03] };
};

/** The halt with a train that passes close, filling a third of the picture and more. */
export const passingTrain = (width: number, height: number): Scene => {
  const scene = halt(width, height);
  const train = new Texture(Math.round(width * 2.2), Math.round(height * 1.1));
  locomotive(train, width * 0.1, train.height * 0.98, height * 0.85, [0.05, 0.17, 0.09], 171);
  train.rectangle(
    width * 1.0,
    train.height * 0.4,
    width * 1.1,
    height * 0.5,
    planks([0.26, 0.08, 0.06], 40, 172),
  );
  return {
    ...scene,
    layers: [...scene.layers, layer(train, 1.1, (t) => ({ x: width * (1.3 - 0.75 * t), y: height * 0.2 }))],
  };
};

/** The halt's kiosk with a striped awning: real stripes, wide and narrow. */
export const awning = (width: number, height: number): Scene => {
  const scene = halt(width, height);
  const kiosk = new Texture(Math.round(width * 1.1), Math.round(height * 1.2));
  const [w, h] = [kiosk.width, kiosk.height];
  kiosk.rectangle(w * 0.1, h * 0.4, w * 0.8, h * 0.6, planks([0.32, 0.3, 0.24], 36, 181));
  kiosk.rectangle(w * 0.16, h * 0.5, w * 0.68, h * 0.24, [0.05, 0.05, 0.06]);
  kiosk.polygon(
    [
      [w * 0.06, h * 0.42],
      [w * 0.14, h * 0.16],
      [w * 0.86, h * 0.16],
      [w * 0.94, h * 0.42],
    ],
    (x, y) => {
      const at = (x - w / 2) / (0.6 + 0.4 * ((y - h * 0.16) / (h * 0.26)));
      const shade = 0.75 + 0.3 * fractal(x / 90, y / 90, 3, 182);
      return Math.floor(at / 22) % 2 === 0
        ? [0.5 * shade, 0.07 * shade, 0.06 * shade]
        : [0.62 * shade, 0.6 * shade, 0.54 * shade];
    },
  );
  return {
    ...scene,
    layers: [...scene.layers, layer(kiosk, 1, () => ({ x: -width * 0.16, y: height * 0.12 }))],
  };
};
