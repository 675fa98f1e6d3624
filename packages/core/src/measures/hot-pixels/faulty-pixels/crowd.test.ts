import { expect } from 'chai';
import { seeded } from '@bevrin/rig';
import type { Place } from '../place.js';
import { isAmong, mayBeChance, usualNumber } from './crowd.js';

const SIZE = { width: 960, height: 540 };

describe('a place among dots of the scene', () => {
  const anywhere = (count: number, seed: number): Place[] => {
    const random = seeded(seed);
    return Array.from({ length: count }, () => ({ x: random() * SIZE.width, y: random() * SIZE.height }));
  };

  it('is one of those that stand close about it, not one that stands alone elsewhere', () => {
    const sign = [
      [500, 300],
      [511, 309],
      [492, 312],
      [505, 290],
      [40, 500],
    ].map(([x, y]) => ({ x, y }));
    expect(isAmong({ x: 503, y: 302 + 7 }, sign, SIZE, sign.length, 40)).to.equal(true);
    expect(isAmong({ x: 760, y: 120 }, sign, SIZE, sign.length, 40)).to.equal(false);
  });

  it('is not its own crowd, and two dots are none', () => {
    const itself = [100, 101, 102].map((x) => ({ x, y: 200 }));
    expect(isAmong({ x: 101, y: 201 }, itself, SIZE, itself.length, 40)).to.equal(false);
    const two = [
      { x: 120, y: 200 },
      { x: 100, y: 203 },
    ];
    expect(isAmong({ x: 110, y: 200 }, two, SIZE, two.length, 40)).to.equal(false);
  });

  it('is seen at its edge and inside where it fills a part of the picture, against what the rest shows', () => {
    const random = seeded(77);
    // A strip of an eighth of the width, thick with dots; a place on its rim has half of them about it.
    const strip = Array.from({ length: 300 }, () => ({
      x: SIZE.width * (0.25 + 0.125 * random()),
      y: SIZE.height * random(),
    }));
    expect(usualNumber(strip, SIZE)).to.equal(0);
    const [inside, rim] = [0.31, 0.25].map((x) => ({ x: SIZE.width * x, y: SIZE.height * 0.52 }));
    expect([inside, rim].map((p) => isAmong(p, strip, SIZE, 0.25, 40))).to.deep.equal([true, true]);
    expect(isAmong({ x: SIZE.width * 0.6, y: rim.y }, strip, SIZE, 0.25, 40)).to.equal(false);
    for (const count of [8, 25, 300])
      expect(usualNumber(anywhere(count, 9 + count), SIZE), `${count} dots anywhere`).to.be.within(
        0.6 * count,
        1.3 * count,
      );
  });

  it('is taken for one by chance as rarely as stated, where faults lie anywhere', () => {
    for (const count of [8, 25, 80]) {
      let taken = 0;
      for (let seed = 1; seed <= 400; seed++) {
        const [place, ...dots] = anywhere(count + 1, 1000 * count + seed);
        if (isAmong(place, dots, SIZE, count, SIZE.width)) taken++;
      }
      expect(taken / 400, `${count} dots`).to.be.below(0.03);
    }
  });

  it('may look like a fault by chance where there are many dots: one among ten, two among fifteen, not five among twenty', () => {
    const [alike, dots] = [anywhere(5, 3), anywhere(20, 4)];
    const isChance = (faults: number, among: number): boolean =>
      mayBeChance(alike.slice(0, faults), dots.slice(0, among));
    expect(isChance(1, 10)).to.equal(true);
    expect(isChance(2, 15)).to.equal(true);
    expect(isChance(5, 20)).to.equal(false);
    expect(isChance(1, 3), 'few dots').to.equal(false);
    expect(isChance(1, 0), 'no dots').to.equal(false);
    // What a fault leaves in another plane is no dot of the scene.
    expect(mayBeChance(alike.slice(0, 1), Array<Place>(10).fill(alike[0]))).to.equal(false);
  });
});
