import { expect } from 'chai';
import { spawn } from 'node:child_process';
import { inLongRuns } from '../tests/support/share.js';

const KILLS = 3;

describe('a house in which everything is killed now and then', function () {
  this.timeout(400_000);

  // Each kind of kill has tests of its own beside what it hits.
  inLongRuns('loses no clip and no decision, writes no wrong document, and finishes', async () => {
    const child = spawn(process.execPath, ['--import', 'tsx', 'scripts/torture.ts', String(KILLS)], {
      env: { ...process.env, DATABASE_URL: '', MEDIA_DIRS: '' },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    let said = '';
    for (const pipe of [child.stdout, child.stderr])
      pipe.setEncoding('utf8').on('data', (text: string) => (said += text));
    const code = await new Promise((done) => child.once('close', done));
    expect(code, said).to.equal(0);
    expect(said).to.match(/3 kills, seed \d+/);
    expect(said).to.contain('Nothing was lost, nothing is wrong, everything is finished.');
  });
});
