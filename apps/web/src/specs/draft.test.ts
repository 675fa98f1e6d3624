import { expect } from 'chai';
import type { DeliverySpec, ClipReadings, JudgedReading } from '@bevrin/contract';
import { HOUSE_SPEC } from '../../../../tests/support/measurement.js';
import { changesBetween, countsOf, differences, verdictsUnder, withLimit } from './draft.js';

const seen = (value: number | null): JudgedReading => ({
  defect: 'noise',
  value,
  interval: null,
  missing: value === null ? 'Too small.' : null,
  startFrame: 0,
  endFrame: 99,
  frames: 100,
  visibility: { time: 1, area: 1, place: 1, contrast: 1 },
  inInterest: null,
  regions: [],
});
const clip = (i: number, noise: number | null): ClipReadings => ({
  clipId: `00000000-0000-4000-8000-${String(i).padStart(12, '0')}`,
  clip: `clip ${i}`,
  facts: 'pass',
  readings: { 'noise.lumaPct': seen(noise) },
});
const spec: DeliverySpec = { ...HOUSE_SPEC, limits: [HOUSE_SPEC.limits[0]] };
const clips = [clip(1, 0.5), clip(2, 1.5), clip(3, 2.5), clip(4, null)];

describe('a limit that is moved', () => {
  it('shows which clips change their verdict, and which way', () => {
    expect(verdictsUnder(clips, spec)).to.deep.equal(['pass', 'marginal', 'fail', 'incomplete']);
    const moved = withLimit(spec, 'noise.lumaPct', 'fail', 3);
    expect(changesBetween(clips, spec, moved).map((c) => [c.clip.clip, c.from, c.to])).to.deep.equal([
      ['clip 3', 'fail', 'marginal'],
    ]);
    expect(countsOf(verdictsUnder(clips, moved))).to.deep.equal({
      pass: 1,
      marginal: 2,
      fail: 0,
      incomplete: 1,
    });
  });

  it('pushes the other one along, so that pass stays below fail', () => {
    const [pushed] = withLimit(spec, 'noise.lumaPct', 'pass', 4).limits;
    expect(pushed.pass).to.equal(4);
    expect(pushed.fail).to.be.greaterThan(4);
    const [pulled] = withLimit(spec, 'noise.lumaPct', 'fail', 0.4).limits;
    expect(pulled.fail).to.equal(0.4);
    expect(pulled.pass).to.be.lessThan(0.4);
    const [least] = withLimit(spec, 'noise.lumaPct', 'fail', 0).limits;
    expect(least.fail).to.be.greaterThan(least.pass);
  });

  it('never makes a clip pass whose facts fail', () => {
    const wrongRate = { ...clips[0], facts: 'fail' as const };
    expect(verdictsUnder([wrongRate], spec)).to.deep.equal(['fail']);
  });
});

describe('two versions', () => {
  it('are told apart in words', () => {
    const later = {
      ...withLimit(spec, 'noise.lumaPct', 'fail', 2.4),
      name: 'House, new',
      requires: { leastBitDepth: 10 },
      harm: [{ name: 'haloPct' as const, pass: 4, fail: 8 }],
      beside: [{ name: 'softer' as const, pass: 1.5, fail: 2 }],
    };
    expect(differences(spec, later, () => 'Noise')).to.deep.equal([
      'name: House → House, new',
      'Noise, fails above: 2 → 2.4',
      'bits, at least: not asked for → 10',
      'halo: anything → 4 and 8 %',
      'Softer than the others: anything → 1.5 and 2 ×',
    ]);
    expect(differences(spec, spec, () => 'Noise')).to.deep.equal([]);
  });
});
