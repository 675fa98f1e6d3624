import { expect } from 'chai';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import type { Measurement } from '@bevrin/contract';
import { shippedSpecs } from '@bevrin/specs';
import { measurementWith } from '../support/measurement.js';
import { fieldOutcomes } from './field.js';
import type { Outcome } from './run.js';

const fault = (x: number, y: number) => ({
  x,
  y,
  kind: 'hot' as const,
  channel: 'luma' as const,
  contrastPct: 30,
  seenPct: 100,
});

describe('clips that have their truth beside them', () => {
  let folder = '';
  beforeEach(() => (folder = mkdtempSync(join(tmpdir(), 'bevrin-field-'))));
  afterEach(() => rmSync(folder, { recursive: true }));

  const truth = (name: string, of: object): void =>
    writeFileSync(join(folder, `${name}.json`), JSON.stringify({ file: `${name}.mp4`, ...of }));
  /** Sets what is read of each clip against its truth; nothing is decoded. */
  const outcomes = async (read: Record<string, Measurement>): Promise<Outcome[]> =>
    fieldOutcomes(
      folder,
      await shippedSpecs(),
      () => undefined,
      (path) => Promise.resolve(read[basename(path, '.mp4')]),
    );
  const within = (found: readonly Outcome[], reading: string, name?: string) =>
    found.find((o) => o.check.reading === reading && (!name || o.name === name))?.within;

  it('are checked by the bars of the figures that their truth names', async () => {
    truth('noisy', { 'noise.lumaPct': 2, 'flicker.pattern': 'none' });
    const close = await outcomes({ noisy: measurementWith({ noise: { lumaPct: 2.05 } }) });
    expect(within(close, 'noise.lumaPct')).to.equal('goal');
    expect(within(close, 'flicker.pattern')).to.equal('goal');
    expect(close.find((o) => o.check.reading === 'noise.lumaPct')?.inside).to.equal(true);
    const far = await outcomes({ noisy: measurementWith({ noise: { lumaPct: 2.6 } }) });
    expect(within(far, 'noise.lumaPct')).to.equal('neither');
    expect(far.find((o) => o.check.reading === 'noise.lumaPct')?.inside).to.equal(false);
  });

  it('tell faults that were found from those that are none', async () => {
    truth('faulty', {
      faultyPixels: [
        [10, 10],
        [200, 90],
      ],
    });
    const pixels = [fault(11, 9), fault(200, 90), fault(50, 50)];
    const found = await outcomes({ faulty: measurementWith({ hotPixels: { pixels, count: 3 } }) });
    expect(within(found, 'hotPixels recall')).to.equal('goal');
    expect(within(found, 'hotPixels precision')).to.equal('neither');
  });

  it('must not fail any shipped delivery where they are clean, and fail just what a person sees', async () => {
    truth('clean', { clean: true });
    truth('shown', { mustFail: ['noise'], mustNotFail: ['hotPixels'], mustNotBeMarginal: ['flicker'] });
    const good = await outcomes({
      clean: measurementWith(),
      shown: measurementWith({ noise: { lumaPct: 8 }, flicker: { depthPct: 9 } }),
    });
    expect(within(good, 'fails falsely', 'clean')).to.equal('goal');
    // Of flicker nothing was said but that it must not be marginal.
    expect(within(good, 'fails', 'shown')).to.equal('goal');
    expect(within(good, 'marginal falsely', 'shown')).to.equal('neither');
    const bad = await outcomes({
      clean: measurementWith({ hotPixels: { count: 30 } }),
      shown: measurementWith({ hotPixels: { count: 30 } }),
    });
    expect(bad.find((o) => o.name === 'clean')?.value).to.equal('hotPixels');
    expect(within(bad, 'fails', 'shown')).to.equal('neither');
    expect(within(bad, 'fails falsely', 'shown')).to.equal('neither');
  });

  it('say which file does not read', async () => {
    writeFileSync(join(folder, 'broken.json'), '{ "clean": true }');
    const failed = await outcomes({}).then(
      () => null,
      (error: Error) => error.message,
    );
    expect(failed).to.contain('broken.json: file:');
  });
});
