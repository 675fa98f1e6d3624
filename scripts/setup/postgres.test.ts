import { expect } from 'chai';
import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { removePostgres, startPostgres } from './postgres.js';

const ask = async (url: string, sql: string): Promise<unknown[]> => {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  const { rows } = await client.query<Record<string, unknown>>(sql);
  await client.end();
  return rows.flatMap((row) => Object.values(row));
};

describe('our own PostgreSQL', function () {
  this.timeout(120_000);
  const home = mkdtempSync(join(tmpdir(), 'bevrin-postgres-'));
  const folder = join(home, 'postgres');
  // The account that the database runs under must be able to come in.
  before(() => chmodSync(home, 0o755));
  after(() => rmSync(home, { recursive: true, force: true }));
  const leader = (): number =>
    Number(readFileSync(join(folder, 'cluster', 'postmaster.pid'), 'utf8').split('\n')[0]);
  const lives = (pid: number): boolean =>
    existsSync(`/proc/${pid}`) && !/ Z /.test(readFileSync(`/proc/${pid}/stat`, 'utf8'));

  it('listens on loopback only, asks for a password, and keeps its data over a stop', async () => {
    const first = await startPostgres(folder);
    await ask(first.url, "CREATE TABLE decisions AS SELECT 'waived'::text AS what");
    expect(await ask(first.url, 'SHOW listen_addresses')).to.deep.equal(['127.0.0.1']);
    const stranger = await ask(first.url.replace(/:[^:@/]+@/, ':wrong@'), 'SELECT 1').catch(
      (error: Error) => error.message,
    );
    expect(stranger).to.contain('password authentication failed');
    await first.stop();
    const second = await startPostgres(folder);
    expect(await ask(second.url, 'SELECT what FROM decisions')).to.deep.equal(['waived']);
    await second.stop();
  });

  it('starts again after a crash, and after one that left it running', async () => {
    await startPostgres(folder);
    process.kill(leader(), 'SIGKILL');
    const after = await startPostgres(folder);
    expect(await ask(after.url, 'SELECT what FROM decisions')).to.deep.equal(['waived']);
    const left = leader();
    const beside = await startPostgres(folder);
    expect(lives(left)).to.equal(false);
    expect(await ask(beside.url, 'SELECT what FROM decisions')).to.deep.equal(['waived']);
  });

  it('is stopped before its cluster is removed', async () => {
    const pid = leader();
    await removePostgres(folder);
    expect([lives(pid), existsSync(folder)]).to.deep.equal([false, false]);
  });
});
