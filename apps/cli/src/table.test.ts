import { expect } from 'chai';
import { MeasureDocument } from '@bevrin/contract';
import { scoreMeasurement } from '@bevrin/core';
import { findSpec } from '@bevrin/specs';
import { measurementWith } from '../../../tests/support/measurement.js';
import { asTable } from './table.js';

describe('the table', () => {
  const tableOf = async (change: Parameters<typeof measurementWith>[0]): Promise<string> => {
    const measurement = measurementWith(change);
    const judged = scoreMeasurement(measurement, await findSpec('broadcast-hd'));
    return asTable(MeasureDocument.parse({ ...measurement, ...judged }));
  };
  const spot = { x: 300, y: 200, radiusPx: 12, contrastPct: -14, worstFrame: 33 };

  it('has a row for each reading that is judged, under its own name', async () => {
    const table = await tableOf({ hotPixels: { count: 0, spots: [spot, spot], spotCount: 2 } });
    expect(table).to.match(/^Hot pixels +0 places +severity +0 +pass$/m);
    expect(table).to.match(/^Lens spots +2 .*severity +[1-9]\d* +(marginal|fail)$/m);
    expect(table).to.match(/^Noise +0\.3 % +severity +\d+ +pass$/m);
  });

  it('keeps a gap between the longest name and its figure', async () => {
    const table = await tableOf({ flicker: { exposureChangePct: 12 } });
    expect(table).to.match(/^Change of exposure {2,}12 %/m);
  });

  it('says in words what could not be told, never by the name of a field', async () => {
    const table = await tableOf({ hotPixels: { spots: null, spotCount: null } });
    expect(table).to.match(/^Lens spots +could not be told$/m);
    const { findings } = scoreMeasurement(measurementWith(), await findSpec('broadcast-hd'));
    for (const { because } of findings) expect(because).to.not.match(/[a-z][A-Z]/);
  });
});
