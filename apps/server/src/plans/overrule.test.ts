import { expect } from 'chai';
import { copyFile, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Batch, Clip, ClipDetail, ClipPlan, Overrides } from '@bevrin/contract';
import { clipFile, FRAMES } from '../../../../tests/support/clips.js';
import { startTestServer, type TestServer } from '../../../../tests/support/test-server.js';

describe('what a technician overrules', function () {
  this.timeout(120_000);
  let server: TestServer;
  let id: string;
  let path: string;
  let machine: ClipDetail['measurement'];

  before(async () => {
    server = await startTestServer();
    path = join(server.media, 'noisy.mp4');
    await copyFile(await clipFile('noisy'), path);
    const batch = (await server.send('POST', '/batches', { name: 'Reel', specId: 'broadcast-hd' }))
      .body as Batch;
    const { body } = await server.send('POST', `/batches/${batch.id}/clips`, { path });
    [{ id }] = (body as { added: Clip[] }).added;
    machine = (await server.settled(id)).measurement;
  });
  after(() => server.stop());

  const overrule = (overrides: Overrides): Promise<{ status: number; body: unknown }> =>
    server.send('POST', `/clips/${id}/decisions`, { who: 'Ines', decision: { kind: 'overrule', overrides } });
  const until = async (holds: (clip: ClipDetail) => boolean): Promise<ClipDetail> => {
    for (;;) {
      const clip = await server.get<ClipDetail>(`/clips/${id}`);
      if (holds(clip)) return clip;
      await new Promise((done) => setTimeout(done, 150));
    }
  };
  const measuredAs = (intent: Overrides['intent']) => (clip: ClipDetail) =>
    clip.state === 'measured' && clip.measurement?.measuredUnder.intent === intent;

  it('is measured, judged anew, and set beside what the machine said', async () => {
    await overrule({ intent: 'locked-off' });
    const clip = await until(measuredAs('locked-off'));
    expect(clip.machine).to.deep.equal(machine);
    const { shake, ...others } = clip.measurement!.readings;
    const { shake: before, ...rest } = machine!.readings;
    expect(others).to.deep.equal(rest);
    expect(shake).to.not.deep.equal(before);
    expect(clip.summary?.camera).to.equal('locked-off');
  });

  it('is given back by taking it back, without a look at the clip', async () => {
    // Whoever decodes finds nothing.
    await rename(path, `${path}.away`);
    await server.send('POST', `/clips/${id}/decisions/undo`);
    const clip = await until(measuredAs(undefined));
    await rename(`${path}.away`, path);
    expect(clip.measurement).to.deep.equal(machine);
    expect(clip.machine).to.equal(null);
    expect(clip.overrides).to.deep.equal({});
    const { history } = await server.get<ClipPlan>(`/clips/${id}/plan`);
    expect(history.map((h) => h.undone)).to.deep.equal([true]);
  });

  it('ends in the last of several decisions that follow at once', async () => {
    await overrule({ intent: 'panning' });
    await overrule({ intent: 'travelling' });
    await overrule({ intent: 'hand-held' });
    await until(measuredAs('hand-held'));
  });

  it('is measured after a crash that came before it could be', async () => {
    await overrule({ intent: 'locked-off', noisePatch: { x: 40, y: 40, width: 200, height: 120 } });
    await server.restart();
    const clip = await until(measuredAs('locked-off'));
    expect(clip.measurement?.measuredUnder.noisePatch).to.include({ x: 40, width: 200 });
    expect(clip.machine).to.deep.equal(machine);
  });

  it('needs a name, and must lie in the picture', async () => {
    const nameless = await server.send('POST', `/clips/${id}/decisions`, {
      who: ' ',
      decision: { kind: 'overrule', overrides: {} },
    });
    expect(nameless.status).to.equal(400);
    const { status, body } = await overrule({ range: { startFrame: 400, endFrame: 500 } });
    expect(status).to.equal(422);
    expect((body as { error: string }).error).to.equal(
      `noisy.mp4: the in point, frame 400, lies behind the last frame, ${FRAMES - 1}. Choose an earlier one.`,
    );
  });

  it('leaves the readings there when the file has gone meanwhile, and says which file', async () => {
    await rm(path);
    await overrule({ intent: 'panning' });
    const clip = await until((c) => c.state === 'failed');
    expect(clip.error).to.match(/^noisy\.mp4: there is no such file/);
    expect(clip.measurement?.readings.noise.state).to.equal('measured');
    expect(clip.judgement?.findings.length).to.be.greaterThan(3);
    await server.send('POST', `/clips/${id}/decisions/undo`);
    const back = await until((c) => c.state === 'measured');
    expect([back.error, back.measurement?.measuredUnder.intent]).to.deep.equal([null, 'locked-off']);
  });
});
