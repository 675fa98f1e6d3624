import { expect } from 'chai';
import fc from 'fast-check';
import { severityOf } from './severity.js';

const limits = fc
  .tuple(fc.double({ min: 0, max: 50, noNaN: true }), fc.double({ min: 0.01, max: 50, noNaN: true }))
  .map(([pass, more]) => ({ pass, fail: pass + more }));
const value = fc.double({ min: 0, max: 500, noNaN: true });
const share = fc.double({ min: 0, max: 1, noNaN: true });

describe('severity', () => {
  it('stays between 0 and 100', () => {
    fc.assert(
      fc.property(
        value,
        limits,
        share,
        (v, { pass, fail }, s) => void expect(severityOf(v, pass, fail, s)).to.be.within(0, 100),
      ),
    );
  });

  it('never falls when a reading gets worse or lasts longer', () => {
    fc.assert(
      fc.property(value, value, limits, share, share, (a, b, { pass, fail }, s, t) => {
        expect(severityOf(Math.max(a, b), pass, fail, s)).to.be.at.least(
          severityOf(Math.min(a, b), pass, fail, s),
        );
        expect(severityOf(a, pass, fail, Math.max(s, t))).to.be.at.least(
          severityOf(a, pass, fail, Math.min(s, t)),
        );
      }),
    );
  });

  it('never rises when limits move outward', () => {
    fc.assert(
      fc.property(
        value,
        limits,
        fc.double({ min: 0, max: 20, noNaN: true }),
        fc.double({ min: 0, max: 20, noNaN: true }),
        (v, { pass, fail }, p, f) => {
          expect(severityOf(v, pass + p, fail + p + f, 1)).to.be.at.most(severityOf(v, pass, fail, 1));
        },
      ),
    );
  });

  it('reads a third at the pass limit and two thirds at the fail limit', () => {
    expect(severityOf(1, 1, 2, 1)).to.equal(33);
    expect(severityOf(2, 1, 2, 1)).to.equal(67);
  });
});
