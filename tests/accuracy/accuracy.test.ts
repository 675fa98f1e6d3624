import { expect } from 'chai';
import { measureClip } from '@bevrin/media';
import { renderStudy } from '@bevrin/rig';
import { ACCURACY_CASES, meets, readingOf } from './cases.js';

/** Banding and moiré must be right on nine of ten; everything else on all. */
const SHARE: Record<string, number> = { banding: 0.9, moire: 0.9 };

describe('accuracy against drawn truth', function () {
  this.timeout(600_000);

  for (const measure of new Set(ACCURACY_CASES.map((c) => c.measure)))
    it(`keeps the bar for ${measure}, and says how often it meets the goal`, async () => {
      const wrong: string[] = [];
      let [all, good] = [0, 0];
      for (const { name, clip, checks } of ACCURACY_CASES.filter((c) => c.measure === measure)) {
        const { path, truth } = await renderStudy(clip);
        const measurement = await measureClip(path);
        for (const check of checks(truth)) {
          const value = readingOf(measurement, check.reading);
          all++;
          if (meets(check, value, 'goal')) good++;
          if (!meets(check, value, 'bar'))
            wrong.push(`${name}: ${check.reading} reads ${value}, truth ${check.truth}`);
        }
      }
      console.log(`      ${measure}: goal met by ${good} of ${all}`);
      const allowed = Math.floor(all * (1 - (SHARE[measure] ?? 1)));
      expect(wrong.length, wrong.join('; ')).to.be.at.most(allowed);
    });
});
