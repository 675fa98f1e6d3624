import { expect } from 'chai';
import type { ClipFacts } from '#terms';
import { normal, seeded } from '@bevrin/rig';
import { measurementWith } from '../../../../../../tests/support/measurement.js';
import type { MotionAnalysis } from '../../../motion/motion-analysis.js';
import type { Frame } from '../../../picture/frame.js';
import { faultyPixels } from './faulty-pixels.js';

const [WIDTH, HEIGHT, FRAMES] = [240, 160, 10];
const CLIP: ClipFacts = {
  ...measurementWith().clip,
  width: WIDTH,
  height: HEIGHT,
  frames: FRAMES,
  bitDepth: 8,
  range: 'limited',
  matrix: 'bt709',
  transfer: 'bt709',
};
type Light = readonly [red: number, green: number, blue: number];
interface Spot {
  readonly x: number;
  readonly y: number;
}
/** What a site of the mosaic gives besides the light that falls on it: none of it where it is dead. */
interface Site extends Spot {
  readonly adds: number;
}
/** A dot that a lens drew: the light in its middle, a little over a pixel wide. */
interface Dot extends Spot {
  readonly light: Light;
}

/** The ground of a scene in light: leaves and petals, in detail of a few pixels. */
const groundAt = (x: number, y: number): Light => {
  const leaves = 0.05 * (Math.sin(x / 1.9 + 0.4 * y) + Math.sin(y / 2.3 - 0.5 * x) + Math.sin((x - y) / 3.1));
  const petals = 0.014 * (Math.sin(x / 2.7 - 0.3 * y) + Math.sin(y / 3.3 + 0.6 * x));
  return [0.3 + 0.8 * leaves + petals, 0.34 + leaves, 0.24 + 0.7 * leaves - petals];
};

/** Frames of a held shot, as a sensor behind a mosaic (red green / green blue) sees them, filled in by means of neighbours, in 4:2:0. */
const held = (sites: readonly Site[], dots: readonly Dot[]): Frame[] => {
  const colourAt = (x: number, y: number): number =>
    x % 2 === 0 && y % 2 === 0 ? 0 : x % 2 === 1 && y % 2 === 1 ? 2 : 1;
  const raw = new Float64Array(WIDTH * HEIGHT);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const c = colourAt(x, y);
      let v = groundAt(x, y)[c];
      for (const d of dots) v += d.light[c] * Math.exp(-((x - d.x) ** 2 + (y - d.y) ** 2) / 1.3);
      raw[y * WIDTH + x] = v;
    }
  for (const { x, y, adds } of sites) {
    const v = raw[y * WIDTH + x];
    raw[y * WIDTH + x] = adds < 0 ? 0.02 * v : Math.min(1, v + adds);
  }
  const signal = (light: number): number => (light < 0.018 ? 4.5 * light : 1.099 * light ** 0.45 - 0.099);
  const filled = (x: number, y: number, c: number): number => {
    let [sum, weight] = [0, 0];
    for (let v = -1; v <= 1; v++)
      for (let u = -1; u <= 1; u++) {
        const [px, py] = [Math.min(WIDTH - 1, Math.max(0, x + u)), Math.min(HEIGHT - 1, Math.max(0, y + v))];
        if (colourAt(px, py) !== c) continue;
        if (colourAt(x, y) === c && (u || v)) continue;
        [sum, weight] = [sum + raw[py * WIDTH + px], weight + 1];
      }
    return signal(sum / weight);
  };
  const rgb = Array.from({ length: WIDTH * HEIGHT }, (_, i) =>
    [0, 1, 2].map((c) => filled(i % WIDTH, Math.floor(i / WIDTH), c)),
  );
  const luma = rgb.map(([r, g, b]) => 0.2126 * r + 0.7152 * g + 0.0722 * b);
  const random = seeded(3);
  const plane = (width: number, height: number, at: (x: number, y: number) => number) => ({
    width,
    height,
    samples: Uint8Array.from({ length: width * height }, (_, i) =>
      Math.round(at(i % width, Math.floor(i / width)) + 0.7 * normal(random)),
    ),
  });
  const colour = (c: 0 | 2, scale: number) => (x: number, y: number) => {
    const four = [0, 1, WIDTH, WIDTH + 1].map((d) => 2 * y * WIDTH + 2 * x + d);
    return 128 + (224 * four.reduce((sum, i) => sum + rgb[i][c] - luma[i], 0)) / 4 / scale;
  };
  return Array.from({ length: FRAMES }, (_, index) => ({
    index,
    timeSec: index / 25,
    view: 'burst',
    planes: [
      plane(WIDTH, HEIGHT, (x, y) => 16 + 219 * luma[y * WIDTH + x]),
      plane(WIDTH / 2, HEIGHT / 2, colour(2, 1.8556)),
      plane(WIDTH / 2, HEIGHT / 2, colour(0, 1.5748)),
    ],
  }));
};

const toldIn = (sites: readonly Site[], dots: readonly Dot[]): [x: number, y: number, channel: string][] => {
  const motion = {
    steps: () => Array.from({ length: FRAMES }, () => ({ dx: 0, dy: 0 })),
  } as unknown as MotionAnalysis;
  const options = { mask: { covers: () => false }, rowStep: 1 } as never;
  const running = faultyPixels.begin(CLIP, motion, options);
  for (const frame of held(sites, dots)) running.take(frame);
  const faults = running.finish();
  if ('reason' in faults) throw new Error(faults.reason);
  return faults.pixels.map(({ x, y, channel }) => [x, y, channel]);
};

describe('a photosite of one colour', () => {
  const GREEN: Site[] = [
    { x: 38, y: 63, adds: 0.6 },
    { x: 100, y: 71, adds: 0.6 },
    { x: 181, y: 52, adds: -1 },
  ];
  const RED: Site[] = [
    { x: 60, y: 100, adds: 0.4 },
    { x: 150, y: 120, adds: -1 },
  ];
  const BLUE: Site[] = [
    { x: 201, y: 131, adds: 0.45 },
    { x: 121, y: 21, adds: -1 },
  ];
  const drawn = (light: Light): Dot[] =>
    [
      [30.3, 130.4],
      [80.6, 40.2],
      [130.5, 90.5],
      [210.4, 90.3],
    ].map(([x, y]) => ({ x, y, light }));

  for (const [channel, sites] of Object.entries({ green: GREEN, red: RED, blue: BLUE }))
    it(`is told of ${channel} in detail that is as strong, whether it gives light or none`, () => {
      const told = toldIn(sites, []);
      expect(told.map(([, , c]) => c)).to.deep.equal(sites.map(() => channel));
      for (const { x, y } of sites)
        expect(
          told.filter(([u, v]) => Math.max(Math.abs(u - x), Math.abs(v - y)) <= 1),
          `${x}, ${y}`,
        ).to.have.length(1);
    });

  const LIGHTS: Record<string, Light> = {
    white: [0.5, 0.5, 0.5],
    green: [0.1, 0.5, 0.05],
    amber: [0.5, 0.3, 0.05],
    red: [0.5, 0.2, 0.1],
    'the blue of the sky': [0.15, 0.3, 0.6],
  };
  for (const [name, light] of Object.entries(LIGHTS))
    it(`is not what a lens drew in ${name}`, () => {
      expect(toldIn([], drawn(light))).to.deep.equal([]);
    });
});
