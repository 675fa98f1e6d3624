import { expect } from 'chai';
import fc from 'fast-check';
import type { Visibility } from '#document';
import { FULLY_VISIBLE, severityOf } from './severity.js';

const limits = fc
  .tuple(fc.double({ min: 0, max: 50, noNaN: true }), fc.double({ min: 0.01, max: 50, noNaN: true }))
  .map(([pass, more]) => ({ pass, fail: pass + more }));
const value = fc.double({ min: 0, max: 500, noNaN: true });
const share = fc.double({ min: 0, max: 1, noNaN: true });
const visibility = fc.record<Visibility>({ time: share, area: share, place: share, contrast: share });

describe('severity', () => {
  it('stays between 0 and 100', () => {
    fc.assert(
      fc.property(
        value,
        limits,
        visibility,
        (v, { pass, fail }, n) => void expect(severityOf(v, pass, fail, n)).to.be.within(0, 100),
      ),
    );
  });

  it('never falls when a reading gets worse, lasts longer, is larger, more central or plainer', () => {
    fc.assert(
      fc.property(value, value, limits, visibility, visibility, (a, b, { pass, fail }, n, m) => {
        expect(severityOf(Math.max(a, b), pass, fail, n)).to.be.at.least(
          severityOf(Math.min(a, b), pass, fail, n),
        );
        for (const key of ['time', 'area', 'place', 'contrast'] as const) {
          const more = { ...n, [key]: Math.max(n[key], m[key]) };
          const less = { ...n, [key]: Math.min(n[key], m[key]) };
          expect(severityOf(a, pass, fail, more), key).to.be.at.least(severityOf(a, pass, fail, less));
        }
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
        visibility,
        (v, { pass, fail }, p, f, n) => {
          expect(severityOf(v, pass + p, fail + p + f, n)).to.be.at.most(severityOf(v, pass, fail, n));
        },
      ),
    );
  });

  it('reads a third at the pass limit and two thirds at the fail limit', () => {
    expect(severityOf(1, 1, 2)).to.equal(33);
    expect(severityOf(2, 1, 2)).to.equal(67);
  });

  it('counts three frames at the edge far less than a whole shot in the middle, yet not for nothing', () => {
    const whole = severityOf(4, 1, 2);
    const moment = severityOf(4, 1, 2, { ...FULLY_VISIBLE, time: 0.03, area: 0.02, place: 0 });
    expect(moment).to.be.lessThan(0.4 * whole);
    expect(moment).to.be.greaterThan(5);
  });
});
