import { expect } from 'chai';
import { fitEdge } from './edge.js';
import { detailOf, relativeDetail, softRuns } from './soft-frames.js';

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

describe('soft frames', () => {
  const shot = [{ startFrame: 0, endFrame: 39 }];
  const details = (soft: readonly number[]) =>
    Array.from({ length: 40 }, (_, f) =>
      soft.includes(f)
        ? { x: 0.03, y: 0.09, middleX: 0.2, middleY: 0.29 }
        : { x: 0.1, y: 0.1, middleX: 0.3, middleY: 0.3 },
    );
  const still = new Array(40).fill({ dx: 0.3, dy: 0.1 });

  it('are told from their neighbours, and can be rebuilt between sharp ones', () => {
    const runs = softRuns(relativeDetail(details([20, 21]), shot), shot, still, 1920);
    expect(runs).to.deep.equal([{ startFrame: 20, endFrame: 21, cause: 'focus', recoverable: true }]);
  });

  it('are none where only the finest detail changes, as it does with where an edge falls', () => {
    const wavering = details([]).map((d, f) => ({ ...d, x: f % 5 === 0 ? 0.05 : d.x }));
    expect(softRuns(relativeDetail(wavering, shot), shot, still, 1920)).to.deep.equal([]);
  });

  it('are a shake where the camera jumps, and a long run has no sharp neighbour', () => {
    const jump = still.map((s, f) => (f === 20 ? { dx: 40, dy: 5 } : s));
    expect(softRuns(relativeDetail(details([20]), shot), shot, jump, 1920)[0].cause).to.equal('shake');
    const long = Array.from({ length: 9 }, (_, i) => 15 + i);
    expect(softRuns(relativeDetail(details(long), shot), shot, still, 1920)[0].recoverable).to.equal(false);
  });

  it('are none where the whole picture changes alike', () => {
    const even = details([]).map((d, f) => ({ ...d, x: d.x * (1 - 0.004 * f), y: d.y * (1 - 0.004 * f) }));
    expect(softRuns(relativeDetail(even, shot), shot, still, 1920)).to.deep.equal([]);
  });

  it('have less fine detail for their coarse detail', () => {
    const picture = (blur: number) => ({
      width: 64,
      height: 64,
      samples: Float32Array.from(
        { length: 4096 },
        (_, i) => 9000 * erf((Math.abs((i % 32) - 16) - 8) / blur),
      ),
    });
    expect(detailOf(picture(3)).x).to.be.lessThan(0.5 * detailOf(picture(0.7)).x);
  });
});
