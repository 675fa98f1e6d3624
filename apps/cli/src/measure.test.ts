import { expect } from 'chai';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { MeasureDocument } from '@bevrin/contract';
import { clipFile } from '../../../tests/support/clips.js';
import { inItsProcess, inThisProcess } from '../../../tests/support/command.js';
import { run } from './measure.js';

const measure = inThisProcess(run);

describe('the measure command', function () {
  this.timeout(120_000);
  const folder = mkdtempSync(join(tmpdir(), 'bevrin-cli-'));
  let noisy = '';
  before(async () => void (noisy = await clipFile('noisy')));
  after(() => rmSync(folder, { recursive: true }));

  it('prints exactly one document, the same each time', async () => {
    const first = inItsProcess('measure', noisy, '--json');
    expect(first.status).to.equal(0);
    const document = MeasureDocument.parse(JSON.parse(first.stdout));
    expect(document.verdict).to.equal('fail');
    expect(document.spec.id).to.equal('broadcast-hd');
    expect((await measure(noisy, '--json')).stdout).to.equal(first.stdout);
  });

  it('prints a table for people: readings with units, the verdict, the plan', async () => {
    const { status, stdout } = await measure(noisy, '--spec', 'web-social');
    expect(status).to.equal(0);
    expect(stdout).to.match(/Noise +\d\.\d+ % +severity +\d+ +fail/);
    expect(stdout).to.match(/Shake +\d/);
    expect(stdout).to.contain('verdict under Web and social, version 3: fail');
    expect(stdout).to.match(/1\. Reduce noise/);
  });

  it('ends with 3 when gated and failing, 0 when it does not fail', async () => {
    expect((await measure(noisy, '--gate')).status).to.equal(3);
    expect((await measure(await clipFile('clean'), '--gate')).status).to.equal(0);
  });

  it('ends with 1 and one clear line when the clip cannot be read', async () => {
    const letter = join(folder, 'letter\nto all.mov');
    writeFileSync(letter, 'Dear all, please find the rushes enclosed. '.repeat(20));
    const { status, stdout, stderr } = await measure(letter, '--json');
    expect([status, stdout]).to.deep.equal([1, '']);
    expect(stderr.trim()).to.match(/^letter\?to all\.mov: this is not a media file[^\n]*$/);
  });

  it('ends with 2 on wrong usage', async () => {
    expect((await measure()).status).to.equal(2);
    const nonsense = await measure(noisy, '--nonsense');
    expect(nonsense.status).to.equal(2);
    expect(nonsense.stderr).to.contain('--nonsense');
    const unknown = inItsProcess('measure', noisy, '--spec', 'nope');
    expect(unknown.status).to.equal(2);
    expect(unknown.stderr).to.contain('broadcast-hd');
    const help = await measure('--help');
    expect([help.status, help.stderr]).to.deep.equal([0, '']);
    expect(help.stdout).to.contain('--overrides');
  });
});
