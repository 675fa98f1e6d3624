import { expect } from 'chai';
import { parse } from 'csv-parse/sync';
import { copyFile, mkdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import {
  Recheck,
  ReturnedFiles,
  type Clip,
  type ClipDetail,
  type ClipRecheck,
  type Measurement,
  type OpenUpload,
} from '@bevrin/contract';
import { offsetOf, openReturn, sendPart } from '../../../scripts/setup/tus.js';
import { Bench, drawn } from '../../../tests/recheck/pairs.js';
import { clipFile, FRAMES, HEIGHT, WIDTH } from '../../../tests/support/clips.js';
import { ServerProcess } from '../../../tests/support/server-process.js';
import { startTestServer, type TestServer } from '../../../tests/support/test-server.js';
import { AVERAGED, measured, proved, returned, WHO } from '../../../tests/support/returns.js';
import { inLongRuns } from '../../../tests/support/share.js';
import { until } from '../../../tests/support/until.js';

/** A place that the clips of the tests do not show. */
const OTHER = {
  study: 'bricks',
  width: WIDTH,
  height: HEIGHT,
  frames: 30,
  noisePct: [0.5, 0.5, 0.5],
  codec: 'h264Lossless',
  seed: 2201,
} as const;

interface Timeline {
  readonly tracks: {
    readonly children: {
      readonly children: { readonly markers: { metadata: { bevrin: { text: string } } }[] }[];
    }[];
  };
}

describe('repaired files that come back', function () {
  this.timeout(180_000);
  let bench: Bench;
  let server: TestServer;
  let clip: Clip;
  let repaired: string;
  before(async () => {
    bench = await Bench.open();
    server = await startTestServer();
    clip = await measured(server);
    repaired = await bench.treated(await clipFile('noisy'), 'reduceNoise', AVERAGED);
  });
  after(async () => {
    await server.stop();
    await bench.close();
  });
  const bring = async (name: string, from: string): Promise<ClipRecheck> => {
    const path = join(server.media, name);
    await copyFile(from, path);
    const { status, body } = await server.send('POST', `/clips/${clip.id}/returns`, { who: WHO, path });
    expect(status, JSON.stringify(body)).to.equal(202);
    return body as ClipRecheck;
  };

  it('become versions of their clip, are proved, and leave what was decided on the original as it was', async () => {
    await server.send('POST', `/clips/${clip.id}/decisions`, {
      who: WHO,
      decision: { kind: 'assign', to: 'Mara' },
    });
    const before = await server.get<ClipDetail>(`/clips/${clip.id}`);
    const { id, version } = await bring('noisy_v2.mkv', repaired);
    expect(version).to.equal(2);
    const { recheck, state, error, range } = await proved(server, clip, id);
    expect(error).to.equal(null);
    expect(state).to.equal('done');
    expect(Recheck.parse(recheck).alignment).to.include({ frameOffset: 0 });
    expect(recheck!.original).to.equal('noisy.mp4');
    expect(recheck!.repaired).to.equal('noisy_v2.mkv');
    const noise = recheck!.readings.find((r) => r.defect === 'noise')!;
    expect(noise.after!).to.be.lessThan(0.5 * noise.before!);
    expect(range!.startFrame).to.equal(0);
    // What was measured of it is kept, frame by frame, for the ruler of its original.
    const measured = await server.get<Measurement>(`/rechecks/${id}/measurement`);
    expect(measured.clip.file).to.equal('noisy_v2.mkv');
    const own = measured.readings.noise;
    expect(own.state === 'measured' && own.values.lumaPct).to.equal(noise.after);
    const light = measured.readings.flicker;
    expect(light.state === 'measured' && light.series.lightPct).to.have.length(measured.clip.frames);
    const after = await server.get<ClipDetail>(`/clips/${clip.id}`);
    expect(after.measured).to.deep.equal(before.measured);
    expect(after.judgement).to.deep.equal(before.judgement);
    expect(after.versions.map((v) => [v.number, v.kind, v.madeFrom])).to.deep.equal([
      [1, 'original', null],
      [2, 'repaired', before.versions[0].id],
    ]);
    const frame = await fetch(`${server.url}/api/rechecks/${id}/frames/5.planes`);
    const original = await fetch(`${server.url}/api/clips/${clip.id}/frames/5.planes`);
    expect(frame.status).to.equal(200);
    expect(frame.headers.get('x-frame-layout')).to.equal(original.headers.get('x-frame-layout'));
    const [is, was] = [await frame.arrayBuffer(), await original.arrayBuffer()].map((b) => new Uint8Array(b));
    expect(is.length).to.equal(was.length);
    const apart = is.reduce((s, v, i) => s + Math.abs(v - was[i]), 0) / is.length;
    expect(apart, 'the repaired picture, not the original').to.be.within(0.5, 12);
    expect((await fetch(`${server.url}/api/rechecks/${id}/frames/900.planes`)).status).to.equal(404);
  });

  it('are signed off once, and nothing under them changes any more', async () => {
    const [first] = await returned(server, clip);
    const sign = (body: object) => server.send('POST', `/rechecks/${first.id}/sign`, body);
    expect((await sign({ who: WHO, how: 'sentBack' })).status, 'without a reason').to.equal(400);
    const { body: back } = await sign({ who: WHO, how: 'sentBack', reason: 'The coat is smeared.' });
    expect((back as ClipRecheck).signed).to.include({ how: 'sentBack', reason: 'The coat is smeared.' });
    const { status, body } = await sign({ who: WHO, how: 'signedOff' });
    expect(status).to.equal(200);
    expect((body as ClipRecheck).signed).to.include({ how: 'signedOff', who: WHO });
    const again = await sign({ who: 'B', how: 'sentBack', reason: 'No.' });
    expect(again.status).to.equal(409);
    expect((again.body as { error: string }).error).to.contain(`signed off by ${WHO}`);
    expect((await server.send('POST', `/rechecks/${first.id}/again`, {})).status).to.equal(409);
    expect((await returned(server, clip))[0].signed).to.include({ how: 'signedOff', who: WHO });
  });

  it('are sent whole, go on where they stopped, and are taken up once', async () => {
    const bytes = new Uint8Array(await readFile(repaired));
    const take = (upload: string, of = clip.id) =>
      server.send('POST', `/clips/${of}/returns`, { who: WHO, upload });
    const count = (await returned(server, clip)).length;
    const empty = await openReturn(server.url, clip.id, 'nothing.mov', 0);
    expect(empty.status).to.equal(422);
    expect(empty.text).to.contain('nothing.mov: the file is empty');
    const nobody = await openReturn(server.url, '00000000-0000-4000-8000-000000000000', 'a.mov', 5);
    expect(nobody.status).to.equal(404);
    const { status, address } = await openReturn(server.url, clip.id, '../../sent v3.mkv', bytes.length);
    expect(status).to.equal(201);
    const upload = address.split('/').pop()!;
    const half = bytes.length >> 1;
    await sendPart(address, 0, bytes.slice(0, half));
    const early = await take(upload);
    expect(early.status).to.equal(409);
    expect((early.body as { error: string }).error).to.contain('it goes on where it stopped');
    const open = await server.get<OpenUpload[]>(`/clips/${clip.id}/return-uploads`);
    expect(open).to.have.length(1);
    expect(open[0]).to.include({ uploadId: upload, offset: half, size: bytes.length });
    await sendPart(address, await offsetOf(address), bytes.slice(half));
    expect(await returned(server, clip), 'nothing is taken up before it is told').to.have.length(count);
    const other = await take(upload, '00000000-0000-4000-8000-000000000000');
    expect(other.status).to.equal(404);
    const answers = [await take(upload), await take(upload)];
    expect(answers.map((a) => a.status)).to.deep.equal([202, 202]);
    const [{ id, version, file }, again] = answers.map((a) => a.body as ClipRecheck);
    expect(again.id, 'told twice it is one version').to.equal(id);
    expect(version).to.equal(count + 2);
    expect(file).to.equal('sent v3.mkv');
    expect(await server.get<OpenUpload[]>(`/clips/${clip.id}/return-uploads`)).to.deep.equal([]);
    expect((await proved(server, clip, id)).recheck?.alignment?.frameOffset).to.equal(0);
  });

  it('say clearly what is wrong with them', async () => {
    const refuse = async (body: object): Promise<[number, string]> => {
      const { status, body: answer } = await server.send('POST', `/clips/${clip.id}/returns`, body);
      return [status, (answer as { error: string }).error];
    };
    expect(await refuse({ who: WHO, path: '/etc/hosts' })).to.satisfy(
      ([status, error]: [number, string]) => status === 403 && error.includes('outside the media folders'),
    );
    const [status, error] = await refuse({ who: WHO, path: join(server.media, 'noisy.mp4') });
    expect(status).to.equal(409);
    expect(error).to.contain('this is the original');
    const broken = join(server.media, 'broken.mov');
    await writeFile(broken, 'no film at all');
    const { body } = await server.send('POST', `/clips/${clip.id}/returns`, { who: WHO, path: broken });
    const failed = await proved(server, clip, (body as ClipRecheck).id);
    expect(failed.state).to.equal('failed');
    expect(failed.error).to.contain('broken.mov').and.to.not.contain(server.media);
  });

  it('are told from another clip', async () => {
    const { id } = await bring('another.mkv', await drawn(OTHER));
    const { recheck } = await proved(server, clip, id);
    expect(recheck).to.include({ verdict: 'sendBack', alignment: null });
    expect(recheck!.because[0]).to.contain('does not look like the original');
    expect((await fetch(`${server.url}/api/rechecks/${id}/frames/3.planes`)).status).to.equal(409);
  });

  it('find the clip that they were made of by name, then by the picture, and ask where it is not certain', async () => {
    const folder = join(server.media, 'repairs');
    await mkdir(folder);
    await copyFile(repaired, join(folder, 'noisy_rep_v3.mkv'));
    await copyFile(repaired, join(folder, 'graded final.mkv'));
    await copyFile(await drawn(OTHER), join(folder, 'who knows.mp4'));
    await writeFile(join(folder, 'text.mov'), 'this is no film');
    const batchId = clip.batchId;
    const bringAll = (path: string) => server.send('POST', `/batches/${batchId}/returns`, { who: WHO, path });
    const { status, body } = await bringAll(folder);
    expect(status, JSON.stringify(body)).to.equal(202);
    const { returned: taken, asked, refused } = ReturnedFiles.parse(body);
    expect(taken.map((r) => [r.file, r.name, r.by])).to.deep.equal([
      ['graded final.mkv', 'noisy.mp4', 'picture'],
      ['noisy_rep_v3.mkv', 'noisy.mp4', 'name'],
    ]);
    expect(asked.map((a) => a.file)).to.deep.equal(['who knows.mp4']);
    expect(asked[0].because).to.contain('looks like none');
    expect(asked[0].candidates.map((c) => c.name)).to.deep.equal(['noisy.mp4']);
    expect(refused).to.have.length(1);
    expect(refused[0]).to.contain('text.mov');
    expect((await returned(server, clip)).filter((r) => /graded|rep_v3/.test(r.file))).to.have.length(2);
    const again = ReturnedFiles.parse((await bringAll(join(folder, 'noisy_rep_v3.mkv'))).body);
    expect(again.refused[0]).to.contain('came back for noisy.mp4 before');
    const original = await bringAll(join(server.media, 'noisy.mp4'));
    expect(original.status).to.equal(409);
    expect((original.body as { error: string }).error).to.contain('only originals');
  });

  it('leave the house with every reason and its place, and without those that a person let stand', async () => {
    const smeared = await bring('smeared.mkv', bench.filtered(await clipFile('noisy'), 'gblur=sigma=2'));
    const { id, recheck, verdict } = await proved(server, clip, smeared.id);
    expect(verdict).to.equal('sendBack');
    const { reasons, because } = recheck!;
    expect(reasons.map((r) => r.says)).to.deep.equal(because);
    const gone = reasons.find((r) => r.about === 'harm detailKeptPct')!;
    expect(gone.frames!.endFrame).to.be.below(FRAMES);
    expect(gone.at!.x).to.be.within(0, WIDTH);
    const out = async (file: string): Promise<string> =>
      (await fetch(`${server.url}/api/rechecks/${id}/out/${file}`)).text();
    const rows = async (): Promise<Record<string, string>[]> =>
      parse(await out('recheck.csv'), { columns: true });
    const before = (await rows()).find(
      (r) => r.kind === 'harm' && r.because.startsWith('Fine detail is gone'),
    )!;
    expect(before).to.include({ verdict: 'fail', 'let stand because': '', version: String(smeared.version) });
    expect(Number(before.after)).to.equal(recheck!.harm.detailKeptPct);
    const markers = async (): Promise<string[]> =>
      (JSON.parse(await out('timeline.otio')) as Timeline).tracks.children[0].children[0].markers.map(
        (m) => m.metadata.bevrin.text,
      );
    expect(await markers()).to.deep.equal(because);
    expect((await out('markers.edl')).match(/^\* \d\d:.* TO /gm)).to.have.length(because.length);

    const waive = (body: object) => server.send('POST', `/rechecks/${id}/waive`, body);
    expect((await waive({ who: WHO, about: gone.about, reason: '' })).status, 'without a reason').to.equal(
      400,
    );
    expect((await waive({ who: WHO, about: 'harm none', reason: 'x' })).status).to.equal(404);
    for (const { about } of reasons) await waive({ who: WHO, about, reason: 'Meant to be soft.' });
    const stands = (await returned(server, clip)).find((r) => r.id === id)!;
    expect(stands.verdict, 'a remark is left: somebody let it stand').to.equal('acceptedWithRemarks');
    expect(stands.recheck!.verdict, 'what the machine says stays').to.equal('sendBack');
    expect(await markers()).to.deep.equal([]);
    expect((await rows()).find((r) => r.because === gone.says)!['let stand because']).to.equal(
      'Meant to be soft.',
    );
    await waive({ who: WHO, about: gone.about, reason: null });
    expect(await markers()).to.deep.equal([gone.says]);
    expect(
      (await server.send('POST', `/rechecks/${id}/sign`, { who: WHO, how: 'signedOff' })).status,
    ).to.equal(409);
    const { body } = await server.send('GET', `/rechecks/${id}/out/nothing.txt`);
    expect((body as { error: string }).error).to.contain('Choose one of recheck.json');
  });
});

describe('a recheck whose process is killed', function () {
  this.timeout(180_000);

  inLongRuns('is finished later', async () => {
    const bench = await Bench.open();
    const house = await ServerProcess.start();
    try {
      const clip = await measured(house);
      const path = join(house.media, 'noisy_v2.mkv');
      await copyFile(await bench.treated(await clipFile('noisy'), 'reduceNoise', AVERAGED), path);
      const { body } = await house.send('POST', `/clips/${clip.id}/returns`, { who: WHO, path });
      const { id } = body as ClipRecheck;
      await until(async () => (await returned(house, clip))[0]?.state === 'running');
      await house.kill();
      await house.resume();
      const { state, recheck } = await proved(house, clip, id);
      expect(state).to.equal('done');
      expect(recheck?.alignment?.frameOffset).to.equal(0);
      expect(await returned(house, clip)).to.have.length(1);
    } finally {
      await house.remove();
      await bench.close();
    }
  });
});
