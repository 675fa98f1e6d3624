import { fractal, seeded } from '../random.js';
import type { Scene } from '../scene/scene.js';
import { layer, plate } from '../scene/studies.js';
import { Texture, type Colour, type Ink } from '../scene/texture.js';
import { bricks, corrugated, ground, locomotive, paneWindow, planks, sky } from './paint.js';
import { MARGIN, walkerLayer } from './people.js';

/** The engine shed: brick, tall windows, a locomotive on the road, lamps in the roof. */
export const engineShed = (width: number, height: number): Scene => {
  const back = plate(width, height, MARGIN);
  const { width: w, height: h } = back;
  const floor = h * 0.78;
  back.fill(bricks([0.34, 0.16, 0.1], 46, 18, 11));
  back.rectangle(0, 0, w, h * 0.2, corrugated([0.16, 0.16, 0.17], 26, 12));
  for (let i = 0; i < 9; i++)
    back.line(i * w * 0.125, h * 0.2, (i + 0.5) * w * 0.125, 0, 12, [0.05, 0.045, 0.04]);
  back.rectangle(0, h * 0.19, w, 14, [0.06, 0.05, 0.05]);
  for (let i = 0; i < 4; i++)
    paneWindow(back, w * (0.1 + i * 0.22), h * 0.28, w * 0.1, h * 0.34, 4, 7, [0.62, 0.68, 0.7], 20 + i);
  back.rectangle(0, floor, w, h - floor, ground([0.2, 0.19, 0.17], [0.13, 0.12, 0.11], floor, h, 13));
  for (const y of [0.86, 0.94]) back.rectangle(0, h * y, w, 9, [0.3, 0.29, 0.28]);
  back.shade(
    (x, y) =>
      0.45 + 0.75 * Math.exp(-(((x - w * 0.5) / (w * 0.45)) ** 2) - ((y - h * 0.45) / (h * 0.6)) ** 2),
  );
  for (let i = 0; i < 5; i++) back.ellipse(w * (0.12 + i * 0.19), h * 0.15, 22, 12, [0.92, 0.9, 0.78], 6);
  const front = plate(width, height, MARGIN);
  locomotive(front, w * 0.3, h * 0.94, h * 0.36, [0.05, 0.17, 0.09], 31);
  const bench = planks([0.28, 0.19, 0.11], 22, 15);
  front.rectangle(w * 0.02, h * 0.8, w * 0.2, 16, bench);
  front.rectangle(w * 0.04, h * 0.8, 14, h * 0.14, bench);
  front.rectangle(w * 0.19, h * 0.8, 14, h * 0.14, bench);
  const random = seeded(16);
  for (let i = 0; i < 14; i++)
    front.rectangle(w * (0.03 + 0.18 * random()), h * 0.8 - 26, 10 + 14 * random(), 26, [
      0.1 + 0.3 * random(),
      0.1 + 0.1 * random(),
      0.08,
    ]);
  return {
    layers: [
      layer(back, 0.9),
      walkerLayer(height, 0.36, -width * 0.42, 62, height * 0.36, 41, [0.12, 0.15, 0.24]),
      layer(front, 1.05),
    ],
    ground: [0.05, 0.05, 0.05],
  };
};

/** The signal box at night: levers, a desk lamp, the line outside in the dark. */
export const signalBox = (width: number, height: number): Scene => {
  const room = plate(width, height, MARGIN);
  const { width: w, height: h } = room;
  room.fill(planks([0.2, 0.17, 0.12], 34, 51));
  for (let i = 0; i < 3; i++) {
    const x = w * (0.06 + i * 0.32);
    room.rectangle(x - 10, h * 0.1, w * 0.26 + 20, h * 0.4, [0.14, 0.11, 0.08]);
    room.rectangle(x, h * 0.115, w * 0.26, h * 0.37, (px, py) => {
      const k = 0.02 + 0.03 * fractal(px / 200, py / 60, 4, 52) + (py > h * 0.38 ? 0.012 : 0);
      return [k * 0.7, k * 0.85, k * 1.3];
    });
    room.rectangle(x + w * 0.128, h * 0.11, 7, h * 0.38, [0.1, 0.08, 0.06]);
  }
  for (const [x, y, c] of [
    [0.12, 0.4, [0.9, 0.2, 0.12]],
    [0.5, 0.37, [0.2, 0.7, 0.35]],
    [0.83, 0.41, [0.85, 0.75, 0.5]],
  ] as const)
    room.ellipse(w * x, h * y, 7, 7, c, 5);
  room.rectangle(0, h * 0.62, w, h * 0.38, ground([0.13, 0.11, 0.09], [0.08, 0.07, 0.06], h * 0.62, h, 53));
  const colours: Colour[] = [
    [0.45, 0.06, 0.05],
    [0.05, 0.12, 0.4],
    [0.05, 0.05, 0.05],
    [0.5, 0.4, 0.08],
  ];
  room.rectangle(w * 0.2, h * 0.7, w * 0.5, h * 0.08, planks([0.12, 0.12, 0.12], 22, 54));
  for (let i = 0; i < 16; i++) {
    const x = w * (0.215 + i * 0.03);
    const lean = i % 5 === 2 ? 26 : 0;
    room.line(x, h * 0.72, x + lean, h * 0.47, 11, colours[i % 4]);
    room.line(x + lean, h * 0.47, x + lean * 1.15, h * 0.43, 8, [0.55, 0.55, 0.56]);
  }
  room.rectangle(w * 0.74, h * 0.6, w * 0.22, 14, [0.24, 0.14, 0.07]);
  room.rectangle(w * 0.77, h * 0.555, w * 0.09, h * 0.045, [0.62, 0.58, 0.48]);
  room.line(w * 0.9, h * 0.6, w * 0.88, h * 0.5, 8, [0.2, 0.2, 0.2]);
  room.polygon(
    [
      [w * 0.855, h * 0.5],
      [w * 0.885, h * 0.46],
      [w * 0.905, h * 0.46],
      [w * 0.925, h * 0.5],
    ],
    [0.5, 0.42, 0.2],
  );
  room.shade((x, y) => {
    const lamp = Math.exp(-(((x - w * 0.87) / (w * 0.2)) ** 2) - ((y - h * 0.57) / (h * 0.24)) ** 2);
    const k = 0.16 + 0.95 * lamp;
    return [k * 1.08, k * 0.98, k * 0.82 + 0.03];
  });
  return {
    layers: [layer(room), walkerLayer(height, 0.6, -width * 0.2, 14, height * 0.42, 55, [0.03, 0.035, 0.05])],
    ground: [0.01, 0.01, 0.01],
  };
};

const SEAT_TEXELS = 4;

/** Inside a carriage: planked wall, windows on the marsh, seats of woven cloth with this many threads a pixel. */
export const carriage = (width: number, height: number, threadsPerPx: number): Scene => {
  const room = plate(width, height, MARGIN);
  const { width: w, height: h } = room;
  room.fill(planks([0.3, 0.2, 0.11], 46, 111));
  for (let i = 0; i < 3; i++) {
    const x = w * (0.1 + i * 0.3);
    room.rectangle(x - 10, h * 0.14, w * 0.22 + 20, h * 0.34, [0.2, 0.13, 0.07]);
    room.rectangle(
      x,
      h * 0.155,
      w * 0.22,
      h * 0.31,
      sky([0.3, 0.4, 0.5], [0.55, 0.55, 0.5], h * 0.4, 0.4, 112 + i),
    );
    room.rectangle(
      x,
      h * 0.36,
      w * 0.22,
      h * 0.105,
      ground([0.2, 0.2, 0.12], [0.24, 0.22, 0.16], h * 0.36, h * 0.47, 116),
    );
  }
  room.rectangle(0, h * 0.5, w, h * 0.5, bricks([0.16, 0.12, 0.1], 90, 60, 118));
  room.rectangle(0, h * 0.86, w, h * 0.14, planks([0.2, 0.15, 0.1], 60, 122));
  room.shade((_x, y) => 0.55 + 0.55 * Math.exp(-(((y - h * 0.4) / (h * 0.45)) ** 2)));
  const seat = (seed: number): Texture => {
    const cloth = new Texture(
      Math.round(width * 0.21) * SEAT_TEXELS,
      Math.round(height * 0.36) * SEAT_TEXELS,
    );
    const turn = (2 * Math.PI * threadsPerPx) / SEAT_TEXELS;
    const [ax, ay] = [Math.cos(0.06) * turn, Math.sin(0.06) * turn];
    cloth.fill((x, y) => {
      const fold = 0.8 + 0.5 * fractal((x / cloth.width) * 4, (y / cloth.height) * 3, 4, seed);
      const k = fold * (1 + 0.55 * Math.sin(ax * x + ay * y));
      return [0.22 * k, 0.1 * k, 0.08 * k];
    });
    return cloth;
  };
  const seats = [-0.3, 0.02].map((x, i): Scene['layers'][number] => ({
    texture: seat(119 + i),
    texelsPerPixel: SEAT_TEXELS,
    parallax: 1,
    place: () => ({ x: width * x, y: height * 0.2 }),
  }));
  return {
    layers: [
      layer(room),
      ...seats,
      walkerLayer(height, 0.8, width * 0.36, 3, height * 0.16, 121, [0.1, 0.13, 0.2]),
    ],
    ground: [0.1, 0.1, 0.1],
  };
};

/** A wall of brick with a woven mat and a coat on pegs: fine regular detail that the lens resolves. */
export const brickAndCloth = (width: number, height: number): Scene => {
  const wall = plate(width, height, MARGIN + 60);
  const { width: w, height: h } = wall;
  wall.fill(bricks([0.36, 0.18, 0.12], 34, 13, 151));
  wall.rectangle(w * 0.3, h * 0.24, w * 0.3, h * 0.46, (x, y) => {
    const k = 0.75 + 0.4 * fractal(x / 120, y / 120, 3, 152);
    const weave = 1 + 0.35 * Math.sin((2 * Math.PI * (x + 0.12 * y)) / 11) * Math.sin((2 * Math.PI * y) / 12);
    return [0.4 * k * weave, 0.34 * k * weave, 0.22 * k * weave];
  });
  wall.rectangle(0, h * 0.82, w, h * 0.18, planks([0.24, 0.17, 0.1], 40, 153));
  wall.rectangle(w * 0.66, h * 0.2, w * 0.22, 12, planks([0.2, 0.13, 0.07], 40, 154));
  for (let i = 0; i < 4; i++) wall.ellipse(w * (0.68 + i * 0.06), h * 0.22, 10, 14, [0.3, 0.28, 0.24], 3);
  wall.shade((x) => 0.6 + 0.6 * Math.exp(-(((x - w * 0.4) / (w * 0.4)) ** 2)));
  return { layers: [layer(wall)], ground: [0.1, 0.1, 0.1] };
};

/** A lever in focus before a room that is not. */
export const leverClose = (width: number, height: number): Scene => {
  const room = plate(width, height, MARGIN);
  const { width: w, height: h } = room;
  room.fill((x, y) => {
    const k = 0.06 + 0.16 * fractal(x / 500, y / 500, 2, 161);
    return [k * 1.1, k, k * 0.85];
  });
  const random = seeded(162);
  for (let i = 0; i < 26; i++) {
    const r = 70 + 130 * random();
    room.ellipse(
      random() * w,
      random() * h,
      r,
      r,
      [0.1 + 0.35 * random(), 0.1 + 0.25 * random(), 0.1 + 0.15 * random()],
      90,
    );
  }
  const lever = new Texture(w, h);
  const iron: Ink = (x, y) => {
    const k = 0.55 + 0.9 * fractal(x / 16, y / 40, 5, 163);
    return [0.34 * k, 0.33 * k, 0.32 * k];
  };
  lever.line(w * 0.46, h, w * 0.52, h * 0.3, 74, (x, y) => {
    const k = 0.6 + 0.8 * fractal(x / 22, y / 22, 5, 164);
    return [0.42 * k, 0.05 * k, 0.04 * k];
  });
  lever.line(w * 0.52, h * 0.33, w * 0.535, h * 0.14, 44, iron);
  lever.rectangle(w * 0.455, h * 0.62, w * 0.11, 20, iron);
  for (let i = 0; i < 5; i++) lever.ellipse(w * 0.47 + i * 26, h * 0.645 - 10, 7, 7, [0.6, 0.58, 0.52]);
  lever.rectangle(w * 0.47, h * 0.72, w * 0.075, h * 0.07, [0.55, 0.52, 0.42]);
  for (let i = 0; i < 4; i++)
    lever.rectangle(w * 0.478, h * 0.735 + i * 13, w * 0.06 * (0.6 + 0.1 * i), 5, [0.05, 0.05, 0.05]);
  return { layers: [layer(room, 0.6), layer(lever)], ground: [0.1, 0.1, 0.1] };
};
