import { expect } from 'chai';
import { copyFile, readFile, utimes } from 'node:fs/promises';
import { join } from 'node:path';
import type { Batch, Clip, ClipDetail } from '@bevrin/contract';
import { clipFile } from '../../../tests/support/clips.js';
import { measurementWith } from '../../../tests/support/measurement.js';
import { startTestServer, type TestServer } from '../../../tests/support/test-server.js';
import { packSeries, unpackSeries } from './clips/measurement-store.js';
import { hashOfFile } from './clips/picture-store.js';

describe('a version of a clip', function () {
  this.timeout(120_000);
  let server: TestServer;
  let path = '';
  let id = '';

  before(async () => {
    server = await startTestServer();
    const batch = (await server.send('POST', '/batches', { name: 'Reel', specId: 'broadcast-hd' }))
      .body as Batch;
    path = join(server.media, 'B001.mp4');
    await copyFile(await clipFile('noisy'), path);
    const { body } = await server.send('POST', `/batches/${batch.id}/clips`, { path });
    id = (body as { added: Clip[] }).added[0].id;
    await server.settled(id);
  });
  after(() => server.stop());

  const detail = (): Promise<ClipDetail> => server.get<ClipDetail>(`/clips/${id}`);
  const frame = (of: string): Promise<Response> =>
    fetch(`${server.url}/api/clips/${id}/frames/3.planes?of=${of}`);

  it('is one file by its content, and its measurement says what made it, and when', async () => {
    const { versions, measured, content } = await detail();
    expect(versions).to.have.length(1);
    expect(versions[0]).to.include({ number: 1, kind: 'original', contentHash: await hashOfFile(path) });
    expect(versions[0].size).to.equal((await readFile(path)).length);
    expect(content).to.equal(versions[0].contentHash);
    expect(measured)
      .to.include({ versionId: versions[0].id })
      .and.to.have.property('engine')
      .that.matches(/^\d/);
    expect(Date.now() - Date.parse(measured!.measuredAt)).to.be.within(0, 120_000);
  });

  it('may be kept for ever under its content, and under nothing else', async () => {
    const { content } = await detail();
    expect((await frame(content!)).headers.get('cache-control')).to.contain('immutable');
    expect((await frame('something-else')).headers.get('cache-control')).to.equal('private, no-cache');
    await utimes(path, new Date(), new Date());
    expect((await frame(content!)).headers.get('cache-control'), 'changed since it was read').to.equal(
      'private, no-cache',
    );
  });

  it('gives way to a new original when another file lies in its place, and stays with what was measured of it', async () => {
    const before = await detail();
    await copyFile(await clipFile('clean'), path);
    await server.send('POST', `/clips/${id}/measure`);
    const after = await server.settled(id);
    expect(after.versions.map((v) => [v.number, v.kind])).to.deep.equal([
      [1, 'original'],
      [2, 'original'],
    ]);
    expect(after.versions[0].contentHash).to.equal(before.content);
    expect(after.content).to.equal(await hashOfFile(path));
    expect(after.measured?.versionId).to.equal(after.versions[1].id);
    expect([before.judgement?.verdict, after.judgement?.verdict]).to.deep.equal(['fail', 'pass']);
    expect([after.poster, after.proxy]).to.not.include(before.poster).and.to.not.include(before.proxy);
    const rows = await server.query('SELECT version_id FROM measurements WHERE version_id = $1', [
      before.versions[0].id,
    ]);
    expect(rows, 'what was measured of the former').to.have.length(1);
  });

  it('is measured again when it is asked for, as another row; the former one stays as it was', async () => {
    const before = await detail();
    await server.send('POST', `/clips/${id}/measure`);
    const after = await server.settled(id);
    expect(after.versions).to.have.length(2);
    expect(after.measured?.id).to.not.equal(before.measured?.id);
    expect(after.measurement).to.deep.equal(before.measurement);
  });
});

describe('series', function () {
  this.timeout(60_000);
  let server: TestServer;
  let clip: Clip;
  const light = Array.from({ length: 100 }, (_, f) => (f % 7 === 3 ? null : Math.sin(f) * 1.2345678901234));

  before(async () => {
    server = await startTestServer();
    const batch = (await server.send('POST', '/batches', { name: 'Reel', specId: 'broadcast-hd' }))
      .body as Batch;
    const measurement = measurementWith();
    const { flicker } = measurement.readings;
    if (flicker.state !== 'measured') throw new Error('the fixture has changed');
    flicker.series.lightPct = light;
    clip = await server.seed(batch.id, 'long.mov', measurement);
  });
  after(() => server.stop());

  it('come back to the last digit, with nothing where there was nothing', () => {
    expect(unpackSeries(packSeries(light))).to.deep.equal(light);
    expect(unpackSeries(packSeries([]))).to.deep.equal([]);
  });

  it('lie apart from the measurement, and are whole in its document', async () => {
    const [{ measurement }] = await server.query('SELECT measurement FROM measurements');
    expect(JSON.stringify(measurement)).to.not.contain('1.2');
    const { measurement: whole } = await server.get<ClipDetail>(`/clips/${clip.id}`);
    expect(whole?.readings.flicker.series).to.deep.equal({ lightPct: light });
  });

  it('are read by range', async () => {
    const { values } = await server.get<{ values: unknown }>(
      `/clips/${clip.id}/series/flicker/lightPct?from=40&count=12`,
    );
    expect(values).to.deep.equal(light.slice(40, 52));
    const rest = await server.get<{ values: unknown }>(`/clips/${clip.id}/series/flicker/lightPct?from=95`);
    expect(rest.values).to.deep.equal(light.slice(95));
    const none = await server.send('GET', `/clips/${clip.id}/series/flicker/loudness`);
    expect([none.status, (none.body as { error: string }).error]).to.deep.equal([
      404,
      'long.mov: there is no series flicker.loudness.',
    ]);
    expect((await server.send('GET', `/clips/${clip.id}/series/flicker/lightPct?from=-1`)).status).to.equal(
      400,
    );
  });
});
