import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { Recheck } from '@bevrin/contract';
import { Bench } from '../../../tests/recheck/pairs.js';
import { clipFile } from '../../../tests/support/clips.js';
import { inItsProcess, inThisProcess } from '../../../tests/support/command.js';
import { run } from './recheck.js';

const recheck = inThisProcess(run);

describe('the command that proves a repaired file', function () {
  this.timeout(240_000);
  let bench: Bench;
  let original = '';
  let smeared = '';
  const folder = mkdtempSync(join(tmpdir(), 'bevrin-cli-recheck-'));
  before(async () => {
    bench = await Bench.open();
    original = await clipFile('noisy');
    smeared = bench.filtered(original, 'gblur=sigma=2');
  });
  after(async () => {
    rmSync(folder, { recursive: true });
    await bench.close();
  });

  it('prints one document, by the plan that it is given', async () => {
    const plan = join(folder, 'plan.json');
    const step = {
      order: 1,
      treatment: 'reduceNoise',
      defect: 'noise',
      expect: { reading: 'lumaPct', unit: '%', from: 3, to: 0.9 },
    };
    writeFileSync(plan, JSON.stringify({ steps: [step] }));
    const { status, stdout, stderr } = await recheck(original, smeared, '--plan', plan, '--json');
    expect(status, stderr).to.equal(0);
    const document = Recheck.parse(JSON.parse(stdout));
    expect(document.verdict).to.equal('sendBack');
    expect(document.alignment).to.include({ frameOffset: 0, steadied: false });
    expect(document.readings.find((r) => r.defect === 'noise')!.expected).to.equal(0.9);
    expect(document.because.join(' ')).to.contain('Fine detail is gone');
  });

  it('ends with 3 at a gate where the file must go back, and prints a table for people', async () => {
    const { status, stdout } = await recheck(original, smeared, '--gate');
    expect(status).to.equal(3);
    expect(stdout).to.match(/begins with frame 0 of the original/);
    expect(stdout).to.match(/before\s+after\s+expected\s+limit/);
    expect(stdout).to.match(/fine detail kept\s+\d+/);
    expect(stdout).to.contain('send back');
  });

  it('ends with 2 and one clear line on what cannot be asked, with 1 on what cannot be read', async () => {
    const broken = join(folder, 'broken.json');
    writeFileSync(broken, '{"steps": 3}');
    for (const [args, says, code] of [
      [[original], '', 2],
      [[original, smeared, '--spec', 'none-such'], 'none-such', 2],
      [[original, smeared, '--plan', join(folder, 'none.json')], 'cannot be read', 2],
      [[original, smeared, '--plan', broken], 'it holds no plan', 2],
      [[original, broken], 'broken.json', 1],
      [[join(folder, 'none.mov'), smeared], 'none.mov', 1],
    ] as const) {
      const { status, stderr, stdout } = await recheck(...args);
      expect(status, `${args.join(' ')}: ${stderr}`).to.equal(code);
      expect(stdout).to.equal('');
      expect(stderr).to.contain(says);
      if (says) expect(stderr.trim().split('\n'), stderr).to.have.length(1);
    }
    const alone = inItsProcess('recheck', join(folder, 'none.mov'), smeared);
    expect([alone.status, alone.stdout]).to.deep.equal([1, '']);
    expect(alone.stderr).to.match(/^none\.mov: [^\n]+\n$/);
  });
});
