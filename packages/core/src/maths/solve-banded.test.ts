import { expect } from 'chai';
import { solveBanded } from './solve.js';

describe('band systems', () => {
  it('solves several right sides at once', () => {
    const n = 12;
    const entry = (i: number, j: number): number =>
      i === j ? 4 + i * 0.1 : Math.abs(i - j) <= 2 ? 0.7 / (1 + i + j) : 0;
    const bands = [0, 1, 2].map((k) =>
      Float64Array.from({ length: n }, (_, i) => (i >= k ? entry(i, i - k) : 0)),
    );
    const wanted = [1, 2].map((seed) => Array.from({ length: n }, (_, i) => Math.sin(seed * i + 1)));
    const rights = wanted.map((x) =>
      Float64Array.from({ length: n }, (_, i) => x.reduce((sum, v, j) => sum + entry(i, j) * v, 0)),
    );
    solveBanded(bands, rights);
    wanted.forEach((x, k) => x.forEach((v, i) => expect(rights[k][i]).to.be.closeTo(v, 1e-10)));
  });
});
