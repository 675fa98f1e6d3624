import { expect } from 'chai';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import pg from 'pg';
import { pino } from 'pino';
import {
  Measurement,
  type BatchDetail,
  type ClipDetail,
  type ClipPlan,
  type Report,
  type SpecVersion,
} from '@bevrin/contract';
import { readConfig, startServer, type RunningServer } from '@bevrin/server';

const DUMP = 'tests/fixtures/house-0.1.sql.gz';

/**
 * A house as release 0.1 left it: three measured clips and one that could not be read, an approved plan whose spec has
 * moved on since, a clip that was overruled, a waived finding, notes, a decision that was taken back.
 */
describe('a database of release 0.1', function () {
  this.timeout(120_000);
  let home = '';
  let url = '';
  let admin: pg.Client;
  const name = `carried_${process.pid}_${Date.now()}`;
  let server: RunningServer;
  let batch: BatchDetail;

  before(async () => {
    const base = process.env.TEST_DATABASE_URL;
    if (!base) throw new Error('TEST_DATABASE_URL is not set: run the tests with npm test.');
    admin = new pg.Client({ connectionString: base });
    await admin.connect();
    await admin.query(`CREATE DATABASE ${name}`);
    url = base.replace(/\/[^/]*$/, `/${name}`);
    home = await mkdtemp(join(tmpdir(), 'bevrin-carried-'));
    const client = new pg.Client({ connectionString: url });
    await client.connect();
    const media = join(home, 'media');
    await client.query(
      gunzipSync(await readFile(DUMP))
        .toString()
        .replaceAll('@MEDIA@', media),
    );
    await client.end();
    const environment = {
      DATABASE_URL: url,
      BEVRIN_VAR: home,
      MEDIA_DIRS: media,
      PORT: '0',
      BEVRIN_ROLE: 'api',
    };
    const config = readConfig(environment, null);
    server = await startServer(config, pino({ level: 'silent' }), {}, config.role);
    const [{ id }] = await get<{ id: string }[]>('/batches');
    batch = await get<BatchDetail>(`/batches/${id}`);
  });
  after(async () => {
    await server.stop();
    await admin.query(`DROP DATABASE ${name} WITH (FORCE)`);
    await admin.end();
    await rm(home, { recursive: true, force: true });
  });

  const get = async <T>(path: string): Promise<T> =>
    (await (await fetch(`${server.url}/api${path}`)).json()) as T;
  const clipNamed = (start: string): Promise<ClipDetail> =>
    get<ClipDetail>(`/clips/${batch.clips.find((c) => c.name.startsWith(start))?.id}`);
  const planOf = (clip: ClipDetail): Promise<ClipPlan> => get<ClipPlan>(`/clips/${clip.id}/plan`);

  it('shows its batch and every clip with its state, verdict and facts', () => {
    expect(batch.batch).to.include({
      name: 'Reel 4',
      production: 'Tidewater',
      specId: 'house',
      dueOn: '2026-12-01',
    });
    expect(batch.clips.map((c) => [c.name, c.state, c.standing?.verdict, c.facts?.frames])).to.deep.equal([
      ['P4_001 quay.mov', 'measured', 'fail', 30],
      ['P4_002 shed.mov', 'measured', 'fail', 30],
      ['P4_003 slip.mov', 'measured', 'marginal', 30],
      ['P4_004 letter.mov', 'failed', undefined, undefined],
    ]);
    expect(batch.clips[3].error).to.contain('this is not a media file');
    expect(batch.clips[0].note).to.equal('For the opening.');
  });

  it('has a version for each file, measured by release 0.1, with readings that satisfy the document', async () => {
    for (const start of ['P4_001', 'P4_002', 'P4_003']) {
      const clip = await clipNamed(start);
      expect(clip.versions.map((v) => [v.number, v.kind])).to.deep.equal([[1, 'original']]);
      expect(clip.measured).to.include({ engine: '0.1', versionId: clip.versions[0].id });
      expect(() => Measurement.parse(clip.measurement)).not.to.throw();
    }
  });

  it('has its series, frame by frame', async () => {
    const { id, measurement } = await clipNamed('P4_001');
    const shake = measurement?.readings.shake;
    if (shake?.state !== 'measured') throw new Error('shake was measured in it');
    expect(shake.series.jitterX).to.have.length(30);
    expect(Math.max(...shake.series.jitterX.map((v) => Math.abs(v ?? 0)))).to.be.greaterThan(1);
    const { values } = await get<{ values: unknown }>(`/clips/${id}/series/shake/jitterX?from=10&count=5`);
    expect(values).to.deep.equal(shake.series.jitterX.slice(10, 15));
  });

  it('has what was decided: assignee, settings, notes, what was waived, and what was taken back', async () => {
    const { decided, history } = await planOf(await clipNamed('P4_001'));
    expect(history.map((d) => [d.who, d.decision.kind])).to.deep.equal([
      ['Ines', 'assign'],
      ['Ines', 'settings'],
      ['Ines', 'note'],
      ['Marit', 'approve'],
    ]);
    expect([decided.assignee, decided.approved?.who]).to.deep.equal(['Theo', 'Marit']);
    const step = decided.steps.find((s) => s.treatment === 'reduceNoise');
    expect([step?.settings.lumaStrengthPct, step?.note]).to.deep.equal([55, 'Keep the grain of the rope.']);
    const waived = await planOf(await clipNamed('P4_003'));
    expect(waived.decided.waived.map((w) => w.reason)).to.deep.equal(['Agreed with the director.']);
    expect(waived.history.map((d) => d.undone)).to.deep.equal([false, true]);
    expect(waived.frameNotes).to.be.empty;
  });

  it('keeps the report of the approved plan as it was approved, under the spec of then', async () => {
    const { versions } = await get<{ versions: SpecVersion[] }>('/specs/house/versions').then((v) => ({
      versions: v as unknown as SpecVersion[],
    }));
    expect(versions.map((v) => v.spec.version)).to.deep.equal([2, 1]);
    const clip = await clipNamed('P4_001');
    const { clips } = await get<Report>(`/clips/${clip.id}/out/report.json`);
    expect(clips[0].spec).to.deep.equal({ id: 'house', name: 'House', version: 1 });
    expect(clip.judgement?.spec.version).to.equal(2);
    expect(clips[0].note, 'written after it was approved').to.equal('');
  });

  it('knows what was overruled, and what the machine said on its own', async () => {
    const { overrides, measurement, machine } = await clipNamed('P4_002');
    expect(overrides).to.deep.equal({ intent: 'locked-off', range: { startFrame: 2, endFrame: 25 } });
    expect(measurement?.measuredUnder).to.deep.equal(overrides);
    expect(machine?.measuredUnder).to.deep.equal({});
    const { frameNotes } = await planOf(await clipNamed('P4_002'));
    expect(frameNotes.map((n) => [n.frame, n.text])).to.deep.equal([[7, 'Lamp at the left.']]);
  });

  it('can be decided on from here: judged under another spec, and opened again', async () => {
    const clip = await clipNamed('P4_001');
    const send = (method: string, path: string, body: unknown): Promise<Response> =>
      fetch(`${server.url}/api${path}`, {
        method,
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(body),
      });
    await send('PATCH', `/clips/${clip.id}`, { specId: 'web-social' });
    expect((await clipNamed('P4_001')).judgement?.spec.id).to.equal('web-social');
    const reopened = await send('POST', `/clips/${clip.id}/decisions`, {
      who: 'Ines',
      decision: { kind: 'reopen', reason: 'Another delivery.' },
    });
    expect(reopened.status).to.equal(201);
    const { clips } = await get<Report>(`/clips/${clip.id}/out/report.json`);
    expect(clips[0].spec.id).to.equal('web-social');
  });
});
