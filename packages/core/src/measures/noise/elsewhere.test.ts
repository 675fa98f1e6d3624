import { expect } from 'chai';
import { normal, seeded } from '@bevrin/rig';
import { elsewhere } from './elsewhere.js';
import { BLOCK, MARGIN, type FlatBlock } from './pair.js';

const [WIDTH, HEIGHT] = [120, 100];
const AT = { x: 52, y: 40 };
const block: FlatBlock = {
  ...AT,
  levelPct: 50,
  toX: AT.x,
  toY: AT.y,
  fractionX: 0,
  fractionY: 0,
  gains: new Float64Array(BLOCK).fill(1),
};

/** A coat of soft patches about as large as a hand, with noise over it. @param by how far it walked, px */
const coat = (seed: number, by: readonly [number, number], sigma: number, light = 1) => {
  const random = seeded(seed);
  const samples = Uint16Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
    const [x, y] = [(i % WIDTH) - by[0], Math.floor(i / WIDTH) - by[1]];
    const patch = 50 * Math.sin(x / 3.1 + Math.sin(y / 5)) * Math.cos(y / 3.7 + Math.cos(x / 7));
    return Math.round(light * (400 + patch) + sigma * normal(random));
  });
  return { width: WIDTH, height: HEIGHT, samples };
};
const plain = (seed: number, sigma: number) => {
  const random = seeded(seed);
  const samples = Uint16Array.from({ length: WIDTH * HEIGHT }, () =>
    Math.round(400 + sigma * normal(random)),
  );
  return { width: WIDTH, height: HEIGHT, samples };
};

describe('a block that lies elsewhere', () => {
  for (const by of [
    [6, -3],
    [-19, 11],
  ] as const)
    it(`is found where somebody carried it, ${by[0]} and ${by[1]} px off`, () => {
      const found = elsewhere(coat(1, [0, 0], 5), coat(2, by, 5), block);
      expect([found?.toX, found?.toY]).to.deep.equal([AT.x + by[0], AT.y + by[1]]);
      expect([found?.fractionX, found?.fractionY]).to.deep.equal([0, 0]);
    });

  it('is found where the light is another, too', () => {
    const found = elsewhere(coat(1, [0, 0], 5), coat(2, [5, 4], 5, 1.1), {
      ...block,
      gains: block.gains.map(() => 1.1),
    });
    expect([found?.toX, found?.toY]).to.deep.equal([AT.x + 5, AT.y + 4]);
  });

  it('is not found in noise, however much of it there is', () => {
    for (let seed = 0; seed < 40; seed++)
      expect(elsewhere(plain(2 * seed, 30), plain(2 * seed + 1, 30), block), `seed ${seed}`).to.be.null;
  });

  it('is not looked for in the rim of the picture, where it could not be read between the pixels', () => {
    const [x, inRim] = [2 * MARGIN, MARGIN - 1];
    const atRim = { ...block, x, toX: x };
    expect(elsewhere(coat(1, [0, 0], 5), coat(2, [inRim - x, 0], 5), atRim)?.toX ?? MARGIN).to.be.least(
      MARGIN,
    );
    expect(elsewhere(coat(1, [0, 0], 5), coat(2, [MARGIN - x, 0], 5), atRim)?.toX).to.equal(MARGIN);
  });

  it('stays where the camera puts it when it looks as much alike there', () => {
    expect(elsewhere(coat(1, [0, 0], 20), coat(2, [0, 0], 20), block)).to.be.null;
  });
});
