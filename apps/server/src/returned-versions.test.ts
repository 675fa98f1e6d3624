import { expect } from 'chai';
import { copyFile } from 'node:fs/promises';
import { join } from 'node:path';
import { ClipDetail, type Clip, type ClipPlan, type ClipRecheck } from '@bevrin/contract';
import { Bench } from '../../../tests/recheck/pairs.js';
import { clipFile } from '../../../tests/support/clips.js';
import { AVERAGED, measured, proved, returned, WHO } from '../../../tests/support/returns.js';
import { startTestServer, type TestServer } from '../../../tests/support/test-server.js';

describe('versions that came back', function () {
  this.timeout(180_000);
  let bench: Bench;
  let server: TestServer;
  let clip: Clip;
  let repaired: string;
  const bring = async (name: string): Promise<ClipRecheck> => {
    const path = join(server.media, name);
    await copyFile(repaired, path);
    return (await server.send('POST', `/clips/${clip.id}/returns`, { who: WHO, path })).body as ClipRecheck;
  };
  before(async () => {
    bench = await Bench.open();
    server = await startTestServer();
    clip = await measured(server);
    repaired = await bench.treated(await clipFile('noisy'), 'reduceNoise', AVERAGED);
    const { madeBy, id } = await bring('noisy_v2.mkv');
    expect(madeBy, 'nothing was approved').to.equal(null);
    await proved(server, clip, id);
  });
  after(async () => {
    await server.stop();
    await bench.close();
  });

  it('say what they were made from and by: the newest approved plan, unless it is told otherwise', async () => {
    const decide = async (decision: unknown): Promise<ClipPlan> => {
      const { status, body } = await server.send('POST', `/clips/${clip.id}/decisions`, {
        who: 'Mara',
        decision,
      });
      expect(status, JSON.stringify(body)).to.equal(201);
      return body as ClipPlan;
    };
    const approvals = ({ history }: ClipPlan): number[] =>
      history.filter((d) => d.decision.kind === 'approve').map((d) => d.id);
    await decide({ kind: 'approve' });
    await decide({ kind: 'reopen', reason: 'Once more.' });
    const treatment = (await server.get<ClipPlan>(`/clips/${clip.id}/plan`)).decided.steps[0].treatment;
    await decide({ kind: 'drop', treatment, reason: 'It is meant to be so.' });
    const [first, second] = approvals(await decide({ kind: 'approve' }));
    const path = join(server.media, 'noisy_v3.mkv');
    await copyFile(repaired, path);
    const [{ versionId }] = await returned(server, clip);
    const wrong = await server.send('POST', `/clips/${clip.id}/returns`, { who: WHO, path, plan: 1e6 });
    expect(wrong.status).to.equal(404);
    const from = { who: WHO, path, plan: first, madeFrom: versionId };
    const { body } = await server.send('POST', `/clips/${clip.id}/returns`, from);
    expect(body).to.deep.include({ madeFrom: 2 });
    expect((body as ClipRecheck).madeBy).to.include({ id: first, who: 'Mara' });
    const { recheck } = await proved(server, clip, (body as ClipRecheck).id);
    // Proved against what came in, by what the plan that it was made by expected.
    expect(recheck!.original).to.equal('noisy.mp4');
    const noise = recheck!.readings.find((r) => r.defect === 'noise')!;
    expect(noise.expected, 'of the plan that was given out').to.be.a('number');
    expect(noise.after!).to.be.lessThan(0.5 * noise.before!);
    const newest = await bring('noisy_v4.mkv');
    expect(newest.madeBy!.id).to.equal(second);
    const again = await proved(server, clip, newest.id);
    expect(again.recheck!.readings.find((r) => r.defect === 'noise')!.expected).to.equal(null);
    await decide({ kind: 'reopen', reason: 'Once more.' });
  });

  it('are opened by themselves: measured, judged, with their own frames and playing copy', async () => {
    const [{ versionId, recheck }] = await returned(server, clip);
    const opened = ClipDetail.parse(await server.get(`/versions/${versionId}`));
    expect(opened.versionOf).to.deep.equal({ clipId: clip.id, clip: 'noisy.mp4', number: 2 });
    expect(opened).to.include({ name: 'noisy_v2.mkv', state: 'measured', batchId: clip.batchId });
    const noise = opened.judgement!.findings.find((f) => f.defect === 'noise')!;
    expect(noise.value).to.equal(recheck!.readings.find((r) => r.defect === 'noise')!.after);
    expect(opened.measured!.versionId).to.equal(versionId);
    const [own, laid] = await Promise.all(
      [`clips/${versionId}`, `rechecks/${recheck && (await returned(server, clip))[0].id}`].map(
        async (of) => {
          const answer = await fetch(`${server.url}/api/${of}/frames/5.planes`);
          expect(answer.status).to.equal(200);
          return Buffer.from(await answer.arrayBuffer());
        },
      ),
    );
    expect(own.equals(laid), 'it lies on its original as it is').to.equal(true);
    const proxy = await fetch(`${server.url}/api/pictures/${opened.proxy}`);
    expect(proxy.headers.get('content-type')).to.equal('video/mp4');
    expect((await fetch(`${server.url}/api/clips/${versionId}/strip.jpg`)).status).to.equal(200);
    // The original by itself is the clip as it is known.
    const [original] = (await server.get<ClipDetail>(`/clips/${clip.id}`)).versions;
    const first = ClipDetail.parse(await server.get(`/versions/${original.id}`));
    expect(first.judgement).to.deep.equal((await server.get<ClipDetail>(`/clips/${clip.id}`)).judgement);
    expect((await fetch(`${server.url}/api/versions/${clip.id}`)).status).to.equal(404);
    const decided = await server.send('POST', `/clips/${versionId}/decisions`, {
      who: WHO,
      decision: { kind: 'assign', to: 'Mara' },
    });
    expect(decided.status, 'nothing is decided on a version').to.equal(404);
  });
});
