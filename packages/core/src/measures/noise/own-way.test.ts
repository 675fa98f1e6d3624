import { expect } from 'chai';
import { normal, seeded } from '@bevrin/rig';
import { ownWayOf, takeOut } from './own-way.js';
import { BLOCK } from './pair.js';

const SIDE = 64;
/** Codes of one per cent: all is worked out in codes here. */
const PER_CODE = 1;

/** Waves of a few pixels, without a period that fits the block. */
const waves = (x: number, y: number): number =>
  400 + 40 * Math.sin(x / 2.3 + y / 7) + 30 * Math.cos(y / 2.9 - x / 5);

/** Noise whose neighbours are alike (`coarse`), or not; standard deviation in codes. */
const grain = (seed: number, sigma: number, coarse: boolean): Float64Array => {
  const random = seeded(seed);
  const white = Float64Array.from({ length: SIDE * SIDE }, () => normal(random));
  if (!coarse) return white.map((v) => sigma * v);
  const at = (x: number, y: number): number => white[((y + SIDE) % SIDE) * SIDE + ((x + SIDE) % SIDE)];
  return white.map((_, i) => {
    const [x, y] = [i % SIDE, Math.floor(i / SIDE)];
    return (sigma * (at(x, y) + at(x + 1, y) + at(x, y + 1) + at(x + 1, y + 1))) / 2;
  });
};

/** Two frames of a scene, the second shifted; the first as a plane, and the difference over one block. */
const block = (
  scene: typeof waves,
  [dx, dy]: readonly [number, number],
  sigma: number,
  coarse = false,
  seed = 1,
): { plane: Parameters<typeof ownWayOf>[0]; difference: Float64Array; noise: number } => {
  const [one, two] = [grain(2 * seed, sigma, coarse), grain(2 * seed + 1, sigma, coarse)];
  const first = Uint16Array.from(one, (v, i) => Math.round(scene(i % SIDE, Math.floor(i / SIDE)) + v));
  const difference = new Float64Array(BLOCK * BLOCK);
  let noise = 0;
  for (let r = 0, k = 0; r < BLOCK; r++)
    for (let c = 0; c < BLOCK; c++, k++) {
      const i = (AT + r) * SIDE + AT + c;
      difference[k] = scene(AT + c - dx, AT + r - dy) + two[i] - first[i];
      noise += (two[i] - one[i]) ** 2;
    }
  return {
    plane: { width: SIDE, height: SIDE, samples: first },
    difference,
    noise: noise / difference.length,
  };
};
const AT = 20;
const AREA = { x: AT, y: AT, width: BLOCK, height: BLOCK };
const power = (d: Float64Array): number => d.reduce((sum, v) => sum + v * v, 0) / d.length;

describe('a block that goes its own way', () => {
  it('is found where it lies, and what its shift left of the picture is taken out of the noise', () => {
    const { plane, difference, noise } = block(waves, [0.4, -0.25], 2);
    expect(power(difference), 'before').to.be.greaterThan(2 * noise);
    const way = ownWayOf(plane, AT, AT, difference, PER_CODE)!;
    // The second frame less the first falls where the picture rises towards its way.
    expect(way.dx).to.be.closeTo(-0.4, 0.06);
    expect(way.dy).to.be.closeTo(0.25, 0.06);
    takeOut(plane, AREA, way, difference, PER_CODE);
    expect(power(difference) / noise, 'after').to.be.within(0.85, 1.25);
  });

  it('is none where there is but noise, fine or coarse, in plain places or in detail', () => {
    for (const coarse of [false, true])
      for (const scene of [waves, () => 400]) {
        let found = 0;
        for (let seed = 1; seed <= 200; seed++) {
          const { plane, difference } = block(scene, [0, 0], 6, coarse, seed);
          if (ownWayOf(plane, AT, AT, difference, PER_CODE)) found++;
        }
        expect(found, `${coarse ? 'coarse' : 'fine'}, of 200`).to.be.at.most(1);
      }
    const { plane } = block(() => 400, [0, 0], 0);
    expect(ownWayOf(plane, AT, AT, new Float64Array(BLOCK * BLOCK), PER_CODE), 'nothing at all').to.equal(
      null,
    );
  });
});
