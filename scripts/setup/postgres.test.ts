import { expect } from 'chai';
import { spawn, type ChildProcess } from 'node:child_process';
import {
  chmodSync,
  chownSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import pg from 'pg';
import { holderOf, takeFolder } from './folder-lock.js';
import { removePostgres, startPostgres } from './postgres.js';
import { processInfo } from './processes.js';
import { clusterHome, unprivileged } from './state-folder.js';

const ask = async (url: string, sql: string): Promise<unknown[]> => {
  const client = new pg.Client({ connectionString: url, connectionTimeoutMillis: 5000 });
  client.on('error', () => undefined);
  await client.connect();
  try {
    const { rows } = await client.query<Record<string, unknown>>(sql);
    return rows.flatMap((row) => Object.values(row));
  } finally {
    await client.end();
  }
};

const lives = (pid: number): boolean => {
  const found = processInfo(pid);
  return found !== null && !found.zombie;
};

/** Starts PostgreSQL in a process of its own, which can be killed. */
const startElsewhere = async (folder: string): Promise<{ holder: ChildProcess; url: string }> => {
  const program = `import('./scripts/setup/postgres.ts').then(async ({ startPostgres }) => {
    const { url } = await startPostgres(${JSON.stringify(folder)});
    console.log(url);
    setInterval(() => undefined, 1e6);
  })`;
  const holder = spawn(process.execPath, ['--import', 'tsx', '-e', program], {
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const url = await new Promise<string>((done) =>
    holder.stdout.setEncoding('utf8').once('data', (text: string) => done(text.trim())),
  );
  return { holder, url };
};

const kill = (holder: ChildProcess): Promise<void> =>
  new Promise((done) => {
    holder.once('exit', () => done());
    holder.kill('SIGKILL');
  });

describe('our own PostgreSQL', function () {
  this.timeout(120_000);
  const home = mkdtempSync(join(tmpdir(), 'bevrin-postgres-'));
  const folder = join(home, 'postgres');
  const account = unprivileged();
  // The account that the database runs under must be able to come in.
  before(() => chmodSync(home, 0o755));
  after(async () => {
    await removePostgres(folder);
    rmSync(home, { recursive: true, force: true });
  });
  const leader = (): number =>
    Number(readFileSync(join(folder, 'cluster', 'postmaster.pid'), 'utf8').split('\n')[0]);

  it('listens on loopback only, asks for a password, and keeps its data over a stop', async () => {
    const first = await startPostgres(folder);
    await ask(first.url, "CREATE TABLE decisions AS SELECT 'waived'::text AS what");
    expect(await ask(first.url, 'SHOW listen_addresses')).to.deep.equal(['127.0.0.1']);
    const refused = await ask(first.url.replace(/:[^:@/]+@/, ':wrong@'), 'SELECT 1').catch(
      (error: Error) => error.message,
    );
    expect(refused).to.contain('password authentication failed');
    await first.stop();
    const second = await startPostgres(folder);
    expect(await ask(second.url, 'SELECT what FROM decisions')).to.deep.equal(['waived']);
    await second.stop();
  });

  it('is started again, at the same address, when it is killed', async () => {
    const said: string[] = [];
    const running = await startPostgres(folder, { say: (line) => said.push(line) });
    // Killed at once when it answers: before who started it has asked, or just then.
    for (let round = 0; round < 3; round++) {
      const before = leader();
      process.kill(before, 'SIGKILL');
      let answer: unknown[] = [];
      while (answer.length === 0)
        answer = await ask(running.url, 'SELECT what FROM decisions').catch(async () => {
          await new Promise((done) => setTimeout(done, 20));
          return [];
        });
      expect(answer).to.deep.equal(['waived']);
      expect(leader()).to.not.equal(before);
    }
    expect(said[0]).to.contain('PostgreSQL ended by itself (SIGKILL)');
    const spoken = said.length;
    await running.stop();
    await new Promise((done) => setTimeout(done, 1500));
    expect(said.length, 'a stop that was wanted is not mended').to.equal(spoken);
    expect(existsSync(join(folder, 'cluster', 'postmaster.pid'))).to.equal(false);
  });

  it('starts again when everything was killed, and when only who started it was', async () => {
    const first = await startElsewhere(folder);
    const pid = leader();
    await kill(first.holder);
    process.kill(pid, 'SIGKILL');
    const second = await startElsewhere(folder);
    expect(await ask(second.url, 'SELECT what FROM decisions')).to.deep.equal(['waived']);
    const left = leader();
    await kill(second.holder);
    expect(lives(left), 'the server outlives who started it').to.equal(true);
    const third = await startPostgres(folder);
    expect(lives(left)).to.equal(false);
    expect(await ask(third.url, 'SELECT what FROM decisions')).to.deep.equal(['waived']);
    await third.stop();
  });

  it('leaves another program alone that has got the number of a server that was killed', async () => {
    const other = spawn('sleep', ['60'], { ...account, stdio: 'ignore' });
    const note = join(folder, 'cluster', 'postmaster.pid');
    writeFileSync(note, `${other.pid}\n${join(folder, 'cluster')}\n1700000000\n54321\n\n127.0.0.1\n`, {
      mode: 0o600,
    });
    if (account) chownSync(note, account.uid, account.gid);
    const running = await startPostgres(folder);
    expect(lives(other.pid!)).to.equal(true);
    expect(await ask(running.url, 'SELECT what FROM decisions')).to.deep.equal(['waived']);
    await running.stop();
    other.kill();
  });

  it('is stopped before its cluster is removed', async () => {
    const { holder } = await startElsewhere(folder);
    const pid = leader();
    await kill(holder);
    await removePostgres(folder);
    expect([lives(pid), existsSync(folder)]).to.deep.equal([false, false]);
  });
});

describe('where the data of PostgreSQL lie', function () {
  this.timeout(60_000);
  const closed = mkdtempSync(join(tmpdir(), 'bevrin-closed-'));
  const wanted = join(closed, 'var', 'postgres');
  const places = mkdtempSync(join(tmpdir(), 'bevrin-places-'));
  after(() => [closed, places].forEach((f) => rmSync(f, { recursive: true, force: true })));
  const account = unprivileged();

  before(function () {
    // Only root meets a home that another account may not enter.
    if (!account) this.skip();
  });

  it('is the place for the state of services, never a temporary folder, when the account may not come in', async () => {
    const running = await startPostgres(wanted);
    const [data] = await ask(running.url, 'SHOW data_directory');
    await running.stop();
    expect(data).to.match(/^\/var\/lib\/bevrin\/[0-9a-f]{12}\/cluster$/);
    await removePostgres(wanted);
    expect(existsSync(dirname(String(data)))).to.equal(false);
  });

  it('is not chosen for a person who named another', () => {
    expect(() => clusterHome(wanted, { account, chosen: true })).to.throw(
      /its account may not enter .*BEVRIN_VAR names.*chmod o\+x/s,
    );
  });

  it('is refused with the reason when others may write to it, or it is a link, or belongs to somebody else', () => {
    const stateHome = join(places, 'open');
    mkdirSync(stateHome);
    chmodSync(stateHome, 0o777);
    const at = (place: string) => () => clusterHome(wanted, { account, chosen: false, stateHome: place });
    expect(at(stateHome)).to.throw(`cannot lie in ${stateHome}: others may write to it (mode 777)`);
    const link = join(places, 'link');
    symlinkSync(resolve(places), link);
    expect(at(link)).to.throw('it is a link');
    const foreign = join(places, 'foreign');
    mkdirSync(foreign);
    chownSync(foreign, 12345, 12345);
    expect(at(foreign)).to.throw('it belongs to another account (user id 12345, not 0)');
  });
});

describe('the folder that a start takes', () => {
  const folder = mkdtempSync(join(tmpdir(), 'bevrin-lock-'));
  after(() => rmSync(folder, { recursive: true, force: true }));

  it('is refused to a second one while the first runs, and free again when that was killed', async () => {
    const program = `import('./scripts/setup/folder-lock.ts').then(({ takeFolder }) => {
      takeFolder(${JSON.stringify(folder)});
      console.log('taken');
      setInterval(() => undefined, 1e6);
    })`;
    const first = spawn(process.execPath, ['--import', 'tsx', '-e', program], {
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    await new Promise((done) => first.stdout.once('data', done));
    expect(() => takeFolder(folder)).to.throw(`already (process ${first.pid})`);
    await kill(first);
    const giveBack = takeFolder(folder);
    expect(holderOf(folder)).to.equal(process.pid);
    giveBack();
    expect(holderOf(folder)).to.equal(null);
  });

  it('is free when its number belongs to another process now', () => {
    const note = { pid: process.pid, startedAt: '1', boot: 'another' };
    writeFileSync(join(folder, 'running.json'), JSON.stringify(note));
    expect(holderOf(folder)).to.equal(null);
  });
});
