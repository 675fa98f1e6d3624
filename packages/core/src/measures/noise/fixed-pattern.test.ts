import { fractal, seeded } from '@bevrin/rig';
import { expect } from 'chai';
import type { ClipFacts } from '#terms';
import type { Plane } from '../../picture/frame.js';
import { FixedPattern } from './fixed-pattern.js';
import { BLOCK, type FlatBlock } from './pair.js';

const [WIDTH, HEIGHT] = [256, 192];
const FACTS = { bitDepth: 10, range: 'full' } as ClipFacts;
const TOP = 1023;

const normal = (random: () => number): number =>
  Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
const noiseOf = (seed: number, sigmaPct: number): Float64Array => {
  const random = seeded(seed);
  return Float64Array.from({ length: WIDTH * HEIGHT }, () => (normal(random) * sigmaPct * TOP) / 100);
};
/** What stays on the sensor. */
const fixed = (sigmaPct: number): Float64Array => noiseOf(99, sigmaPct);
/** A smooth scene that has moved so far, with noise that comes and goes, and what stays. */
const frame = (moved: number, stays: Float64Array, seed: number): Plane => {
  const comes = noiseOf(seed, 1.5);
  return {
    width: WIDTH,
    height: HEIGHT,
    samples: Uint16Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
      const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
      return Math.round(300 + 350 * fractal((x + moved) / 60, y / 60, 2, 5) + comes[i] + stays[i]);
    }),
  };
};
const blocks: FlatBlock[] = [];
for (let y = BLOCK; y < HEIGHT - 2 * BLOCK; y += BLOCK)
  for (let x = BLOCK; x < WIDTH - 2 * BLOCK; x += BLOCK)
    blocks.push({ x, y, levelPct: 50, toX: x, toY: y, fractionX: 0, fractionY: 0, gain: [] } as never);

/** The power of what stays, where the scene goes so far between frames. */
const read = (goes: number, sigmaPct: number, frames = 6): FixedPattern => {
  const pattern = new FixedPattern(FACTS);
  const stays = fixed(sigmaPct);
  for (let f = 0; f < frames; f++) pattern.take(frame(goes * f, stays, 200 + f), blocks);
  return pattern;
};

describe('noise that stays on the sensor', () => {
  it('is told from noise that comes and goes, while the scene moves', () => {
    expect(Math.sqrt(read(40, 0.8).power())).to.be.closeTo(0.8, 0.1);
    expect(Math.sqrt(read(40, 0.4).power())).to.be.closeTo(0.4, 0.1);
  });

  it('is next to nothing where all noise comes and goes', () => {
    expect(Math.sqrt(read(40, 0).power())).to.be.below(0.12);
  });

  it('is not claimed where the scene stands: its texture stays as well', () => {
    const still = read(0, 0.8);
    expect(still.power()).to.equal(0);
    expect(Math.sqrt(still.stillFloor())).to.be.above(0.2);
  });

  it('is not claimed from three frames', () => expect(read(40, 0.8, 3).power()).to.equal(0));
});
