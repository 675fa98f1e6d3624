import { expect } from 'chai';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { published, SCHEMAS } from '../../../scripts/schemas.js';
import { DeliverySpec, rationalToNumber } from './index.js';

describe('the contract', () => {
  for (const [name, schema] of Object.entries(SCHEMAS))
    it(`has published the schema of ${name} as it is now (npm run schemas)`, () => {
      expect(readFileSync(join('docs', `${name}.schema.json`), 'utf8')).to.equal(published(schema));
    });

  it('ships delivery specs that satisfy it, each under its own id', () => {
    const files = readdirSync('specs');
    expect(files.length).to.be.at.least(6);
    for (const file of files) {
      const spec = DeliverySpec.parse(JSON.parse(readFileSync(join('specs', file), 'utf8')));
      expect(`${spec.id}.json`).to.equal(file);
      expect(new Set(spec.limits.map((l) => `${l.defect} ${l.reading}`)).size).to.equal(spec.limits.length);
    }
  });

  it('reads a rational rate', () => {
    expect(rationalToNumber('30000/1001')).to.be.closeTo(29.97003, 1e-5);
  });
});
