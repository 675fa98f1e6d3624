import { expect } from 'chai';
import type { Batch, BatchDetail, DeliverySpec, ClipReadings, SpecVersion } from '@bevrin/contract';
import { measurementWith } from '../../../../tests/support/measurement.js';
import { startTestServer, type TestServer } from '../../../../tests/support/test-server.js';

describe('delivery specs of the house', function () {
  this.timeout(60_000);
  let server: TestServer;
  let batch: Batch;
  let spec: DeliverySpec;

  before(async () => {
    server = await startTestServer();
    const made = await server.send('POST', '/batches', { name: 'Reel 9', specId: 'broadcast-hd' });
    batch = made.body as Batch;
    spec = (await server.get<DeliverySpec[]>('/specs')).find((s) => s.id === 'broadcast-hd')!;
    await server.seed(batch.id, 'grainy.mov', measurementWith({ noise: { lumaPct: 1.4 } }));
    await server.seed(batch.id, 'clean.mov', measurementWith());
  });
  after(() => server.stop());

  const withNoise = (pass: number, fail: number, of = spec): DeliverySpec => ({
    ...of,
    limits: of.limits.map((l) => (l.defect === 'noise' ? { ...l, pass, fail } : l)),
  });
  const noiseOf = async (name: string) => {
    const { clips } = await server.get<BatchDetail>(`/batches/${batch.id}`);
    const { summary } = clips.find((c) => c.name === name)!;
    return {
      version: summary!.spec.version,
      verdict: summary!.findings.find((f) => f.defect === 'noise')!.verdict,
    };
  };

  it('hand out what limits are set against, without looking at a clip again', async () => {
    const seen = await server.get<ClipReadings[]>(`/batches/${batch.id}/seen?spec=broadcast-hd`);
    expect(seen.map((s) => s.clip)).to.deep.equal(['grainy.mov', 'clean.mov']);
    expect(seen[0].readings['noise.lumaPct']).to.include({ value: 1.4, missing: null });
    expect(seen[0].readings['shake.jitterPctWidth'].missing).to.contain('not built yet');
  });

  it('keep every version, judge every clip anew under the new one, and name it', async () => {
    expect(await noiseOf('grainy.mov')).to.deep.equal({ version: spec.version, verdict: 'marginal' });
    const { status, body } = await server.send('POST', '/specs', {
      spec: withNoise(0.5, 1),
      replaces: spec.version,
    });
    expect(status).to.equal(201);
    expect((body as DeliverySpec).version).to.equal(spec.version + 1);
    expect(await noiseOf('grainy.mov')).to.deep.equal({ version: spec.version + 1, verdict: 'fail' });
    const versions = await server.get<SpecVersion[]>('/specs/broadcast-hd/versions');
    expect(versions.map((v) => v.spec.version)).to.deep.equal([spec.version + 1, spec.version]);
    expect(versions[1].spec).to.deep.equal(spec);
  });

  it('do not overwrite what somebody else saved meanwhile', async () => {
    const late = await server.send('POST', '/specs', { spec: withNoise(0.1, 0.2), replaces: spec.version });
    expect(late.status).to.equal(409);
    expect((late.body as { error: string }).error).to.contain('was changed meanwhile');
    expect(await noiseOf('grainy.mov')).to.include({ version: spec.version + 1 });
  });

  it('refuse limits that are the wrong way round, and say which', async () => {
    const { status, body } = await server.send('POST', '/specs', {
      spec: withNoise(3, 1),
      replaces: spec.version + 1,
    });
    expect(status).to.equal(400);
    expect((body as { error: string }).error).to.contain('fail must be larger than pass');
  });

  it('survive a restart, and a shipped version never comes back over a saved one', async () => {
    await server.restart();
    const now = (await server.get<DeliverySpec[]>('/specs')).find((s) => s.id === spec.id)!;
    expect(now.version).to.equal(spec.version + 1);
    expect(now.limits.find((l) => l.defect === 'noise')).to.include({ pass: 0.5, fail: 1 });
  });

  it('hold for a batch, and for one clip in its place', async () => {
    const { clips } = await server.get<BatchDetail>(`/batches/${batch.id}`);
    const clip = clips.find((c) => c.name === 'grainy.mov')!;
    const lenient = { ...withNoise(5, 9), id: 'lenient', name: 'Lenient' };
    expect((await server.send('POST', '/specs', { spec: lenient, replaces: null })).status).to.equal(201);
    await server.send('PATCH', `/clips/${clip.id}`, { specId: 'lenient' });
    expect(await noiseOf('grainy.mov')).to.deep.equal({ version: 1, verdict: 'pass' });
    await server.send('PATCH', `/clips/${clip.id}`, { specId: null });
    expect(await noiseOf('grainy.mov')).to.include({ verdict: 'fail' });
    const unknown = await server.send('PATCH', `/clips/${clip.id}`, { specId: 'nowhere' });
    expect((unknown.body as { error: string }).error).to.contain('There is no delivery spec "nowhere"');
  });
});
