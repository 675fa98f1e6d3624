import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { shippedSpecs } from '@bevrin/specs';
import { ACCURACY_CASES } from './cases.js';
import { shareOf } from '../support/share.js';
import { outcomesOf } from './run.js';

/** Clips of each measure; the table in the docs has all of them. One of shake takes as long as several others. */
const CLIPS = 2;
const CLIPS_OF: Readonly<Record<string, number>> = { shake: 1 };

describe('accuracy against drawn truth', function () {
  this.timeout(600_000);

  for (const measure of new Set(ACCURACY_CASES.map((c) => c.measure)))
    it(`keeps the bar for ${measure}, and says how often it meets the goal`, async () => {
      const outcomes = [];
      const cases = ACCURACY_CASES.filter((c) => c.measure === measure && !c.inTableAlone);
      for (const one of shareOf(cases, CLIPS_OF[measure] ?? CLIPS)) outcomes.push(...(await outcomesOf(one)));
      const wrong = outcomes
        .filter((o) => o.within === 'neither' && !o.check.known)
        .map(({ name, check, value }) => `${name}: ${check.reading} reads ${value}, truth ${check.truth}`);
      const good = outcomes.filter((o) => o.within === 'goal').length;
      console.log(`      ${measure}: goal met by ${good} of ${outcomes.length}`);
      expect(outcomes, 'something was read').not.to.be.empty;
      expect(wrong).to.deep.equal([]);
    });

  it('has in its table the amount of every reading that a shipped delivery judges', async () => {
    const table = readFileSync(new URL('../../docs/accuracy.md', import.meta.url), 'utf8').split(
      '<!-- field -->',
    )[0];
    const judged = [...(await shippedSpecs()).values()].flatMap((s) =>
      s.limits.map((l) => `${l.defect}.${l.reading}`),
    );
    expect(judged).to.include('hotPixels.specksPerFrame');
    expect([...new Set(judged)].filter((reading) => !table.includes(`| ${reading} `))).to.deep.equal([]);
  });
});
