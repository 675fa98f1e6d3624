import { expect } from 'chai';
import { fitEdge } from './edge.js';

/** Error function by the series of Abramowitz and Stegun 7.1.26. */
const erf = (x: number): number => {
  const t = 1 / (1 + 0.3275911 * Math.abs(x));
  const y =
    1 -
    ((((1.061405429 * t - 1.453152027) * t + 1.421413741) * t - 0.284496736) * t + 0.254829592) *
      t *
      Math.exp(-x * x);
  return x < 0 ? -y : y;
};
const step = (sigma: number, angle: number, noise = 0) => {
  const [ux, uy] = [Math.cos(angle), Math.sin(angle)];
  let state = 7;
  const random = (): number => (state = (state * 16807) % 2147483647) / 2147483647 - 0.5;
  const values = new Map<string, number>();
  return {
    ux,
    uy,
    read: (x: number, y: number): number => {
      const key = `${x},${y}`;
      const known = values.get(key);
      if (known !== undefined) return known;
      const v =
        0.4 + 0.2 * erf((x * ux + y * uy - 0.3) / (sigma * Math.SQRT2)) + noise * random() * Math.sqrt(12);
      values.set(key, v);
      return v;
    },
  };
};

describe('the width of an edge', () => {
  for (const sigma of [0.6, 1.2, 2.5, 4])
    for (const angle of [0, 0.3, Math.PI / 4, 1.4])
      it(`is read at ${sigma} px under ${angle.toFixed(1)} rad within 3 %`, () => {
        const { read, ux, uy } = step(sigma, angle);
        expect(fitEdge(read, 0, 0, ux, uy)?.sigmaPx).to.be.closeTo(sigma, 0.03 * sigma);
      });

  it('says how well it is known where there is noise', () => {
    const clean = fitEdge(step(1, 0.2).read, 0, 0, Math.cos(0.2), Math.sin(0.2))!;
    const noisy = fitEdge(step(1, 0.2, 0.012).read, 0, 0, Math.cos(0.2), Math.sin(0.2))!;
    expect(noisy.sigmaPx).to.be.closeTo(1, 4 * noisy.errorPx);
    expect(noisy.errorPx).to.be.greaterThan(3 * clean.errorPx);
  });

  it('takes neither a thin line nor a plain slope for an edge', () => {
    expect(fitEdge((x) => 0.3 + 0.3 * Math.exp(-x * x), 0, 0, 1, 0)).to.equal(null);
    expect(fitEdge((x) => 0.3 + 0.01 * x, 0, 0, 1, 0)).to.equal(null);
  });
});

describe('the flank of a line', () => {
  /** A bright line of a width, blurred by as much as an edge would be. */
  const line = (width: number, sigma: number) => (x: number) =>
    0.3 + 0.15 * (erf((x + width / 2) / (sigma * Math.SQRT2)) - erf((x - width / 2) / (sigma * Math.SQRT2)));

  it('is no edge that is sharper than it is: it comes back beyond the window', () => {
    for (const sigma of [1.5, 2.5, 3.5])
      for (const width of [1, 2 * sigma, 3.5 * sigma]) {
        const read = line(width, sigma);
        const flank = Math.round(-Math.max(width / 2, sigma));
        const fit = fitEdge((x) => read(x + flank), 0, 0, 1, 0);
        expect(fit === null || fit.sigmaPx > 0.85 * sigma, `${width} px, blurred by ${sigma} px`).to.equal(
          true,
        );
      }
  });

  it('is an edge where the line is so wide that its other side lies far off', () => {
    const read = line(60, 2.5);
    expect(fitEdge((x) => read(x - 30), 0, 0, 1, 0)?.sigmaPx).to.be.closeTo(2.5, 0.1);
  });
});
