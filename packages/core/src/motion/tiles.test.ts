import { expect } from 'chai';
import { normal, seeded } from '@bevrin/rig';
import type { Level } from '../picture/pyramid.js';
import { STILL } from './similarity.js';
import { followTiles } from './tiles.js';

const [WIDTH, HEIGHT] = [320, 180];
const WHITE = 60000;

/** Patches, each of its own light, drawn by a lens as wide as a pixel. */
const random = seeded(31);
const patches = Array.from({ length: 80 * 60 }, () => 12000 + 30000 * random());
const wood = (x: number, y: number): number => {
  let sum = 0;
  for (const [dx, dy] of [
    [-0.5, -0.5],
    [0.5, -0.5],
    [-0.5, 0.5],
    [0.5, 0.5],
  ])
    sum += patches[(Math.floor((y + dy) / 7) + 20) * 80 + Math.floor((x + dx) / 5) + 10];
  return sum / 4;
};

/** A wood to the right of a sky that is burnt out, in which a codec leaves a little, otherwise in each frame. */
const frame = (dx: number, dy: number, skyShare: number, seed: number): Level => {
  const left = seeded(seed);
  const samples = new Float32Array(WIDTH * HEIGHT);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++)
      samples[y * WIDTH + x] =
        x < skyShare * WIDTH ? WHITE + 60 * normal(left) : wood(x - dx, y - dy) + 60 * normal(left);
  return { width: WIDTH, height: HEIGHT, samples };
};

const followed = (from: Level, to: Level): ReturnType<typeof followTiles> =>
  followTiles(from, to, STILL, null, 0);

describe('tiles that are followed', () => {
  it('are what the picture shows: a burnt-out sky with what a codec leaves in it does not count', () => {
    const tiles = followed(frame(0, 0, 0.75, 1), frame(1.2, -0.6, 0.75, 2));
    const inTheWood = Array.from({ length: tiles.count }, (_, i) => i).filter(
      (i) => tiles.x[i] > 0.3 * WIDTH && tiles.found[i],
    );
    expect(tiles.found.reduce((n, f) => n + f, 0) / tiles.count, 'of all tiles').to.be.lessThan(0.45);
    expect(tiles.foundShare, 'of what is shown').to.be.greaterThan(0.9);
    for (const i of inTheWood) expect(tiles.dx[i]).to.be.closeTo(1.2, 0.25);
  });

  it('are hardly any in another picture, nor in one where there is nothing but noise', () => {
    const other = frame(140, 60, 0, 4);
    expect(followed(frame(0, 0, 0, 3), other).foundShare).to.be.lessThan(0.2);
    expect(followed(frame(0, 0, 1, 5), frame(0, 0, 1, 6)).foundShare).to.be.lessThan(0.2);
    const blank = { width: WIDTH, height: HEIGHT, samples: new Float32Array(WIDTH * HEIGHT).fill(WHITE) };
    expect(followed(blank, blank)).to.include({ count: 0, foundShare: 0 });
  });
});
