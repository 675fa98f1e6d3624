import { expect } from 'chai';
import {
  storedSpec,
  USUAL_HARM_LIMITS,
  USUAL_NEIGHBOUR_LIMITS,
  type BesideFinding,
  type NeighbourLimit,
} from '#document';
import { HOUSE_SPEC } from '../../../../tests/support/measurement.js';
import { besideOf, besideWords, rollsOf, type Neighbour } from './beside.js';

const clip = (
  name: string,
  softness: number | null,
  noise: number | null,
  levelPct: number | null = null,
  specId = 'hd',
): Neighbour => ({
  id: name,
  name,
  summary: {
    spec: { id: specId, name: '', version: 1 },
    levelPct,
    findings: (
      [
        ['softness', 'blurSigmaPx', softness],
        ['noise', 'lumaPct', noise],
      ] as const
    ).map(([defect, reading, value]) => ({
      defect,
      reading,
      value,
      unit: '',
      severity: 0,
      verdict: 'pass' as const,
    })),
  },
});

const found = (
  clips: readonly Neighbour[],
  limits: readonly NeighbourLimit[] = USUAL_NEIGHBOUR_LIMITS,
): Map<string, BesideFinding[]> => besideOf(clips, [{ id: 'hd', beside: [...limits] }]);

describe('a clip beside the others of its roll', () => {
  const roll = [1, 2, 3, 4, 5].map((n) => clip(`A014_C00${n}.mov`, 0.6 + 0.02 * n, 0.8, 40 + n));

  it('is told where it is softer, noisier or cleaner than the median of the others, and judged by its limits', () => {
    const all = found([
      ...roll,
      clip('A014_C009.mov', 1.584, 0.8),
      clip('a014-c010.mov', 0.66, 4),
      clip('A014_C011.mov', 0.66, 0.3),
    ]);
    expect([...all.keys()]).to.have.members(['A014_C009.mov', 'a014-c010.mov', 'A014_C011.mov']);
    const [soft] = all.get('A014_C009.mov')!;
    expect(soft).to.include({ name: 'softer', unit: '×', roll: 'A014', count: 7, verdict: 'marginal' });
    expect(soft.value).to.be.closeTo(2.4, 0.01);
    expect(soft.because).to.match(/^It is 2\.4 times softer than the other 7 of A014: 1\.6 px, /);
    expect(all.get('a014-c010.mov')![0]).to.include({ name: 'noisier', value: 5, verdict: 'fail' });
    expect(besideWords(all.get('A014_C011.mov')![0])).to.equal('2.7 times cleaner');
  });

  it('is told where it is much brighter or darker', () => {
    const all = found([...roll, clip('A014_C012.mov', 0.66, 0.8, 5), clip('A014_C013.mov', 0.66, 0.8, 60)]);
    expect([...all.keys()], 'a night in a roll of days').to.have.members(['A014_C012.mov']);
    const [dark] = all.get('A014_C012.mov')!;
    expect(dark).to.include({ name: 'level', unit: '%', verdict: 'marginal', own: 5 });
    expect(besideWords(dark)).to.equal('39 % darker');
    expect(dark.match).to.include({ treatment: null });
  });

  it('is judged as its delivery says, and not at all where that says nothing', () => {
    const clips = [...roll, clip('A014_C009.mov', 1.584, 0.2)];
    expect(found(clips, []).size).to.equal(0);
    const strict = [{ name: 'softer', pass: 1.2, fail: 1.5 }] as const;
    expect(
      found(clips, strict)
        .get('A014_C009.mov')!
        .map((f) => [f.name, f.verdict]),
    ).to.deep.equal([['softer', 'fail']]);
    const own = clip('A014_C010.mov', 1.584, 0.2, null, 'strict');
    const only = besideOf(
      [...clips, own],
      [
        { id: 'hd', beside: [] },
        { id: 'strict', beside: [...strict] },
      ],
    );
    expect([...only.keys()]).to.deep.equal(['A014_C010.mov']);
  });

  it('is judged by the usual limits where its delivery was stored before there were any', () => {
    const { harm: _harm, beside: _beside, ...early } = HOUSE_SPEC;
    const today = storedSpec(early);
    expect(today.harm).to.deep.equal(USUAL_HARM_LIMITS);
    const clips = [...roll, clip('A014_C009.mov', 1.584, 0.8, null, today.id)];
    expect([...besideOf(clips, [today]).keys()]).to.deep.equal(['A014_C009.mov']);
    expect(besideOf(clips, [storedSpec({ ...early, beside: [] })]).size, 'none is not the usual').to.equal(0);
  });

  it('says what grain matches it to the others: powers add up', () => {
    const [{ match }] = found([...roll, clip('A014_C011.mov', 0.66, 0.3)]).get('A014_C011.mov')!;
    expect(match.treatment).to.equal('grain');
    expect(match.words).to.contain('Match grain to the other 5 of A014: bring 0.74 % of it in');
    expect(Math.hypot(0.3, match.settings.lumaPct as number)).to.be.closeTo(0.8, 0.01);
  });

  it('is not set beside another roll, and not where few others were measured', () => {
    expect(found([...roll, clip('B002_C001.mov', 4, 9)]).size).to.equal(0);
    expect(found([...roll.slice(0, 2), clip('A014_C009.mov', 4, 9)]).size).to.equal(0);
    const unmeasured = [1, 2, 3].map((n) => ({ ...clip(`A014_U${n}.mov`, 1, 1), summary: null }));
    expect(found([...roll.slice(0, 2), ...unmeasured, clip('A014_C009.mov', 4, 9)]).size).to.equal(0);
    expect(found([clip('_1', 1, 1), clip('_2', 1, 1), clip('_3', 1, 1), clip('_4', 9, 9)]).size).to.equal(0);
  });

  it('says nothing of noise that nobody sees, and of clips without a reading', () => {
    const clean = [1, 2, 3, 4].map((n) => clip(`B1_${n}`, null, 0.01));
    expect(found([...clean, clip('B1_5', null, 0.15)]).size).to.equal(0);
    expect(
      found([...clean, clip('B1_5', 3, 0.5)])
        .get('B1_5')!
        .map((b) => b.name),
    ).to.deep.equal(['noisier']);
  });

  it('shows the rolls there is enough of, each reading ascending, whatever was measured of it', () => {
    const rolls = rollsOf([...roll, clip('B2_1', 1, null), clip('A014_C000.mov', 0.5, 0.1)]);
    expect(rolls.map((r) => r.name)).to.deep.equal(['A014']);
    expect(rolls[0].values.noise.map((v) => v.value)).to.deep.equal([0.1, 0.8, 0.8, 0.8, 0.8, 0.8]);
    expect(rolls[0].values.level).to.have.length(5);
  });

  it('takes five thousand clips at once', () => {
    const many = Array.from({ length: 5000 }, (_, i) => clip(`A1_${i}`, 0.7, i === 7 ? 3 : 0.5));
    const began = Date.now();
    expect([...found(many).keys()]).to.deep.equal(['A1_7']);
    expect(Date.now() - began).to.be.below(1500);
  });
});
