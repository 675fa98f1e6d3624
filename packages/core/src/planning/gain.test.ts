import { expect } from 'chai';
import { gainForEffort, renderMinutes } from './gain.js';

describe('the gain of a step for its effort', () => {
  const cost = { renderWeight: 6, artistMinutes: 4, cropPct: 0 };
  const finding = { severity: 80, weight: 1 };

  it('grows with severity, with how much it matters, and with the chance', () => {
    const plain = gainForEffort(finding, cost, 0.5, 60);
    expect(gainForEffort({ ...finding, severity: 40 }, cost, 0.5, 60)).to.be.closeTo(plain / 2, 1e-9);
    expect(gainForEffort({ ...finding, weight: 3 }, cost, 0.5, 60)).to.be.closeTo(3 * plain, 1e-9);
    expect(gainForEffort(finding, cost, 1, 60)).to.be.closeTo(2 * plain, 1e-9);
  });

  it('falls with the minutes of an artist and with those of the render, which grow with the clip', () => {
    expect(renderMinutes(cost, 60)).to.equal(6);
    expect(renderMinutes(cost, 600)).to.equal(60);
    expect(gainForEffort(finding, cost, 1, 60)).to.be.closeTo(80 / 10, 1e-9);
    expect(gainForEffort(finding, cost, 1, 600)).to.be.closeTo(80 / 64, 1e-9);
  });
});
