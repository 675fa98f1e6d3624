import { expect } from 'chai';
import type { WorkItem } from '@bevrin/contract';
import { decidedPlan, gainForEffort, scoreMeasurement } from '@bevrin/core';
import { HOUSE_SPEC, measurementWith } from '../../../../tests/support/measurement.js';
import { groupOf, tasksOf, togetherWith } from './gain.js';

const item = (clip: string, lumaPct: number, durationSec: number, alike = 'one camera'): WorkItem => {
  const measurement = measurementWith({ noise: { lumaPct } });
  measurement.clip.durationSec = durationSec;
  const { plan, findings } = scoreMeasurement(measurement, HOUSE_SPEC);
  const finding = findings.find((f) => f.defect === 'noise')!;
  const decided = decidedPlan(plan, findings, measurement, []);
  return {
    clipId: '00000000-0000-4000-8000-000000000001',
    clip,
    durationSec,
    alike,
    verdict: 'fail',
    plan: decided,
    severity: { reduceNoise: finding.severity },
    gain: Object.fromEntries(
      decided.steps.map((s) => [s.treatment, gainForEffort(finding, s.cost, s.confidence, durationSec)]),
    ),
  };
};

describe('the work list', () => {
  it('puts first what takes most away for the least work: the worse clip, and of two alike the shorter one', () => {
    const tasks = tasksOf([
      item('long', 2.4, 900),
      item('mild', 1.1, 4),
      item('short', 2.4, 4),
      item('clean', 0.2, 4),
    ]);
    expect(tasks.map((t) => t.item.clip)).to.deep.equal(['short', 'mild', 'long']);
    expect(tasks[2].renderMinutes).to.be.greaterThan(10 * tasks[0].renderMinutes);
  });

  it('says what one setting can treat together', () => {
    const tasks = tasksOf([item('a', 2.4, 4), item('b', 2.5, 4), item('c', 2.4, 4, 'another camera')]);
    const groups = togetherWith(tasks);
    expect(groups.get(groupOf(tasks[0].item, tasks[0].step))).to.equal(2);
    expect([...groups.values()].sort()).to.deep.equal([1, 2]);
  });
});
