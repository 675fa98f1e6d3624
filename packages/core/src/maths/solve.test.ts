import { expect } from 'chai';
import { solveSymmetric } from './solve.js';

describe('linear systems', () => {
  it('solves a symmetric positive definite system', () => {
    const rows = [
      [4, 1, 0.5],
      [1, 3, -0.2],
      [0.5, -0.2, 2],
    ];
    const x = [1.5, -2, 0.25];
    const right = Float64Array.from(rows, (row) => row.reduce((sum, v, i) => sum + v * x[i], 0));
    const found = solveSymmetric(Float64Array.from(rows.flat()), right);
    x.forEach((v, i) => expect(found?.[i]).to.be.closeTo(v, 1e-10));
  });

  it('refuses a singular one', () => {
    expect(solveSymmetric(Float64Array.from([1, 2, 2, 4]), Float64Array.from([1, 2]))).to.equal(null);
  });
});
