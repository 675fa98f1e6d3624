import { expect } from 'chai';
import { normal, seeded } from '@bevrin/rig';
import { mean } from '../../../maths/robust.js';
import { errorOver, STEP, UNKNOWN, usual, usualPlain, type Look } from './usual.js';

/** Looks at a dark spot from a camera that goes as far as each says, with noise, a passing subject and places not seen. */
const looksAt = (moves: readonly [dx: number, dy: number][], width: number, height: number): Look[] => {
  const random = seeded(77);
  const spot = (x: number, y: number): number =>
    -0.3 * Math.exp(-((x - 0.5 * width) ** 2 + (y - 0.4 * height) ** 2) / 18);
  return moves.map(([dx, dy], k) => ({
    dx,
    dy,
    steps: Int8Array.from({ length: width * height }, (_, i) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      if (random() < 0.05 || (x < 9 && k % 3 > 0)) return UNKNOWN;
      const passes = Math.abs(x - 5 * k) < 4 ? 0.4 : 0;
      const light = spot(x, y) - spot(x - dx, y - dy) + passes + 0.03 * (random() - 0.5);
      return Math.max(-127, Math.min(127, Math.round(light / STEP)));
    }),
  }));
};
const MOVES: [number, number][] = Array.from({ length: 13 }, (_, k) => [
  Math.round(7 * Math.cos(k)),
  Math.round(6 * Math.sin(1.7 * k)),
]);
const LEAST = 6;

describe('what looks at a lens agree on', () => {
  for (const [width, height, many, rounds] of [
    [67, 41, 13, 1],
    [67, 41, 13, 5],
    [64, 33, 6, 2],
    [34, 30, 1, 2],
  ])
    it(`is what is found plainly, on ${width}×${height}, of ${many} looks in ${rounds} rounds`, () => {
      const looks = looksAt(MOVES.slice(0, many), width, height);
      const least = Math.min(LEAST, many);
      const [fast, plain] = [usual, usualPlain].map((of) => of(looks, { width, height }, rounds, least));
      const apart = fast.filter((v, i) => Math.abs(v - plain[i]) > 1e-5);
      expect(apart.length).to.equal(0);
      expect(plain.some((v) => v !== 0)).to.equal(true);
    });

  it('is the spot where it lies, without the trace that it leaves where it lay', () => {
    const size = { width: 80, height: 60 };
    const found = usual(looksAt(MOVES, size.width, size.height), size, 6, LEAST);
    const at = (x: number, y: number): number => found[y * size.width + x];
    expect(at(40, 24)).to.be.closeTo(-0.3, 0.03);
    for (const [dx, dy] of MOVES.filter((m) => Math.hypot(...m) > 6))
      expect(at(40 + dx, 24 + dy)).to.be.greaterThan(-0.08);
    expect(Math.max(...found)).to.be.lessThan(0.06);
  });

  it('is nothing where too few have looked', () => {
    const size = { width: 80, height: 60 };
    const looks = looksAt(MOVES, size.width, size.height);
    const found = usual(looks, size, 2, 9);
    for (let y = 0; y < size.height; y++) expect(found[y * size.width + 4]).to.equal(0);
  });

  it('errs by as much as it says where the looks hold nothing but noise, in each round the more', () => {
    const size = { width: 60, height: 40 };
    const random = seeded(5);
    const noise = MOVES.map(([dx, dy]): Look => ({
      dx,
      dy,
      steps: Int8Array.from({ length: size.width * size.height }, () => Math.round(12 * normal(random))),
    }));
    const places = Array.from({ length: size.width * size.height }, (_, i) => i).filter((i) => {
      const [x, y] = [i % size.width, Math.floor(i / size.width)];
      return x >= 24 && x < 36 && y >= 14 && y < 26;
    });
    const [once, after] = [1, 6].map((rounds) => {
      const samples = usual(noise, size, rounds, LEAST);
      const told = errorOver(places, noise, { ...size, samples }, rounds);
      const erring = Math.sqrt(mean(places.map((i) => samples[i] ** 2)));
      return { told, erring };
    });
    expect(once.told / once.erring).to.be.within(0.8, 1.25);
    // The median of many looks forgets a part of what was added before: it errs by no more than is said.
    expect(after.erring).to.be.within(once.erring, 1.1 * after.told);
  });
});
