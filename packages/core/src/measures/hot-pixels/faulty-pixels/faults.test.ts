import { expect } from 'chai';
import { kindOf } from './faults.js';
import type { Suspect } from './suspect.js';

/** A dark place that keeps its level while a scene of changing light passes over it. */
const darkAt = (level: number): Suspect => {
  const frames = 10;
  const around = Array.from({ length: frames }, (_, f) => 0.3 + 0.04 * f);
  const sum = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0);
  return {
    x: 20,
    y: 20,
    index: 0,
    bright: false,
    frames,
    stoodOut: frames,
    contrast: -0.2 * frames,
    beside: 0,
    along: new Float64Array(4),
    rings: new Float32Array(56),
    value: level * frames,
    valueSquares: level * level * frames,
    around: sum(around),
    aroundSquares: sum(around.map((v) => v * v)),
  };
};

describe('the kind of a fault', () => {
  // Codes over the span: in limited range black itself lies at 16/219.
  const limited = { bitDepth: 8, range: 'limited' } as const;
  const full = { bitDepth: 8, range: 'full' } as const;

  it('is dead for what gives nothing, and stuck for what keeps a level of its own, in either range', () => {
    expect(kindOf(darkAt(16 / 219 + 0.03), 0, limited)).to.equal('dead');
    expect(kindOf(darkAt(16 / 219 + 0.15), 0, limited)).to.equal('stuck');
    expect(kindOf(darkAt(0.03), 0, full)).to.equal('dead');
    expect(kindOf(darkAt(0.13), 0, full)).to.equal('stuck');
  });
});
