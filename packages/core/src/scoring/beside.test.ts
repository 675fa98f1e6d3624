import { expect } from 'chai';
import { besideOf, type Neighbour } from './beside.js';

const clip = (name: string, softness: number | null, noise: number | null): Neighbour => ({
  id: name,
  name,
  summary: {
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

describe('a clip beside the others of its roll', () => {
  const roll = [1, 2, 3, 4, 5].map((n) => clip(`A014_C00${n}.mov`, 0.6 + 0.02 * n, 0.8));

  it('is told where it is softer, noisier or cleaner than the median of the others', () => {
    const found = besideOf([
      ...roll,
      clip('A014_C009.mov', 1.584, 0.8),
      clip('a014-c010.mov', 0.66, 2),
      clip('A014_C011.mov', 0.66, 0.3),
    ]);
    expect([...found.keys()]).to.have.members(['A014_C009.mov', 'a014-c010.mov', 'A014_C011.mov']);
    const [soft] = found.get('A014_C009.mov')!;
    expect(soft).to.include({ defect: 'softness', roll: 'A014', others: 7 });
    expect(soft.times).to.be.closeTo(2.4, 0.01);
    expect(found.get('a014-c010.mov')![0].times).to.be.closeTo(2.5, 0.01);
    expect(found.get('A014_C011.mov')![0].times).to.be.closeTo(0.375, 0.01);
  });

  it('is not set beside another roll, and not where few others were measured', () => {
    expect(besideOf([...roll, clip('B002_C001.mov', 4, 9)]).size).to.equal(0);
    expect(besideOf([...roll.slice(0, 2), clip('A014_C009.mov', 4, 9)]).size).to.equal(0);
    const unmeasured = [1, 2, 3].map((n) => ({ ...clip(`A014_U${n}.mov`, 1, 1), summary: null }));
    expect(besideOf([...roll.slice(0, 2), ...unmeasured, clip('A014_C009.mov', 4, 9)]).size).to.equal(0);
    expect(besideOf([clip('_1', 1, 1), clip('_2', 1, 1), clip('_3', 1, 1), clip('_4', 9, 9)]).size).to.equal(
      0,
    );
  });

  it('says nothing of noise that nobody sees, and of clips without a reading', () => {
    const clean = [1, 2, 3, 4].map((n) => clip(`B1_${n}`, null, 0.01));
    expect(besideOf([...clean, clip('B1_5', null, 0.15)]).size).to.equal(0);
    expect(
      besideOf([...clean, clip('B1_5', 3, 0.5)])
        .get('B1_5')!
        .map((b) => b.defect),
    ).to.deep.equal(['noise']);
  });

  it('takes five thousand clips at once', () => {
    const many = Array.from({ length: 5000 }, (_, i) => clip(`A1_${i}`, 0.7, i === 7 ? 3 : 0.5));
    const began = Date.now();
    expect([...besideOf(many).keys()]).to.deep.equal(['A1_7']);
    expect(Date.now() - began).to.be.below(1500);
  });
});
