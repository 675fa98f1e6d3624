import { expect } from 'chai';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { z } from 'zod';
import { DeliverySpec, descriptorOf, findingName, readingsForLimits } from '#document';
import { DESCRIPTORS } from './all.js';
import type { AnyDescriptor } from './descriptor.js';

const keysOf = (schema: unknown): string[] => Object.keys((schema as z.ZodObject).shape);

/** What everything else is derived from must not contradict itself. */
describe('the descriptors', () => {
  for (const descriptor of DESCRIPTORS as readonly AnyDescriptor[]) {
    const { defect, values, series, figures, seriesLabels } = descriptor;

    it(`of ${defect} name figures and series that there are`, () => {
      expect(keysOf(values)).to.include.members(Object.keys(figures));
      expect(keysOf(series)).to.include.members(Object.keys(seriesLabels));
    });

    it(`of ${defect} let a spec judge only what is worse when there is more of it, each under a name of its own`, () => {
      const judged = readingsForLimits(defect as never);
      expect(judged).to.not.be.empty;
      for (const name of judged) expect(figures[name].better, name).to.equal('lower');
      const names = judged.map((reading) => findingName({ defect: defect as never, reading }));
      expect(new Set(names).size).to.equal(names.length);
    });

    it(`of ${defect} hold a goal that is closer than the first bar`, () => {
      for (const [name, { accuracy }] of Object.entries(figures)) {
        if (!accuracy) continue;
        const allowed = ({ share = 0, amount = 0 }: typeof accuracy.bar): number => share + amount;
        expect(allowed(accuracy.goal), name).to.be.lessThan(allowed(accuracy.bar));
      }
    });
  }

  it('have keys and short names of their own', () => {
    for (const key of ['defect', 'name', 'shortName'] as const)
      expect(new Set(DESCRIPTORS.map((d) => d[key])).size).to.equal(DESCRIPTORS.length);
  });

  it('agree with the shipped specs on units', () => {
    for (const file of readdirSync('specs')) {
      const spec = DeliverySpec.parse(JSON.parse(readFileSync(join('specs', file), 'utf8')));
      for (const { defect, reading, unit } of spec.limits)
        expect(unit, `${file}: ${defect}.${reading}`).to.equal(descriptorOf(defect).figures[reading].unit);
    }
  });
});
