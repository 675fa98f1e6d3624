import { expect } from 'chai';
import type { Batch, Clip, ClipDetail, ClipPlan, Decision, DeliverySpec, WorkItem } from '@bevrin/contract';
import { measurementWith } from '../../../../tests/support/measurement.js';
import { startTestServer, type TestServer } from '../../../../tests/support/test-server.js';

describe('decisions on plans', function () {
  this.timeout(60_000);
  let server: TestServer;
  let batch: Batch;
  let clip: Clip;

  before(async () => {
    server = await startTestServer();
    const made = await server.send('POST', '/batches', { name: 'Reel 12', specId: 'broadcast-hd' });
    batch = made.body as Batch;
    clip = await server.seed(
      batch.id,
      'night.mov',
      measurementWith({
        noise: { lumaPct: 3 },
        flicker: { depthPct: 6, frequencyHz: 4, pattern: 'whole-frame' },
      }),
    );
    await server.seed(batch.id, 'night 2.mov', measurementWith({ noise: { lumaPct: 2.9 } }));
  });
  after(() => server.stop());

  const decide = async (decision: Decision, who = 'R. Hale') => {
    const { status, body } = await server.send('POST', `/clips/${clip.id}/decisions`, { who, decision });
    return { status, plan: body as ClipPlan, error: (body as { error?: string }).error ?? '' };
  };

  it('are kept with who and when, and survive a restart', async () => {
    const { status, plan } = await decide({
      kind: 'drop',
      treatment: 'deflicker',
      reason: 'Lamps are meant.',
    });
    expect(status).to.equal(201);
    expect(plan.decided.steps.map((s) => s.treatment)).to.deep.equal(['reduceNoise']);
    await server.restart();
    const { decided, history, proposed } = await server.get<ClipPlan>(`/clips/${clip.id}/plan`);
    expect(decided.steps.map((s) => s.treatment)).to.deep.equal(['reduceNoise']);
    expect(history).to.have.length(1);
    expect(history[0]).to.include({ who: 'R. Hale', undone: false });
    expect(proposed.steps, 'what the machine said stays').to.have.length(2);
  });

  it('can be taken back, and stay to be read', async () => {
    const { body } = await server.send('POST', `/clips/${clip.id}/decisions/undo`);
    const { decided, history } = body as ClipPlan;
    expect(decided.steps).to.have.length(2);
    expect(history[0].undone).to.equal(true);
    const again = await server.send('POST', `/clips/${clip.id}/decisions/undo`);
    expect(again.status).to.equal(409);
  });

  it('need a name and a reason', async () => {
    const nameless = await decide({ kind: 'assign', to: 'Mara' }, '  ');
    expect(nameless.status).to.equal(400);
    expect(nameless.error).to.contain('Say who decides');
    const { status, error } = await decide({
      kind: 'waive',
      defect: 'noise',
      reading: 'lumaPct',
      reason: '',
    });
    expect(status).to.equal(400);
    expect(error).to.contain('Say why');
  });

  it('refuse a step for which nothing was measured', async () => {
    const { status, error } = await decide({ kind: 'add', treatment: 'stabilise', reason: 'It sways.' });
    expect(status).to.equal(422);
    expect(error).to.contain('night.mov').and.to.contain('nothing for this treatment to do');
  });

  it('freeze a plan that was approved, whatever becomes of its limits, until it is opened again', async () => {
    await decide({ kind: 'assign', to: 'Mara' });
    const approved = (await decide({ kind: 'approve' }, 'S. Quill')).plan.decided;
    expect(approved.approved?.who).to.equal('S. Quill');
    expect((await decide({ kind: 'keep', treatment: 'deflicker' })).status).to.equal(409);
    const spec = (await server.get<DeliverySpec[]>('/specs')).find((s) => s.id === 'broadcast-hd')!;
    const lenient = {
      ...spec,
      limits: spec.limits.map((l) => ({ ...l, pass: 10 * l.pass + 10, fail: 10 * l.fail + 20 })),
    };
    await server.send('POST', '/specs', { spec: lenient, replaces: spec.version });
    const frozen = await server.get<ClipPlan>(`/clips/${clip.id}/plan`);
    expect(frozen.proposed.steps).to.deep.equal([]);
    expect(frozen.decided.steps).to.deep.equal(approved.steps);
    const { plan } = await decide({ kind: 'reopen', reason: 'New limits.' });
    expect(plan.decided.approved).to.equal(null);
    expect(plan.decided.steps).to.deep.equal([]);
    await server.send('POST', '/specs', { spec, replaces: spec.version + 1 });
  });

  it('keep the report of an approved plan as it was approved, whatever readings and limits become', async () => {
    const out = async (): Promise<unknown> => server.get(`/clips/${clip.id}/out/report.json`);
    await decide({ kind: 'waive', defect: 'flicker', reading: 'depthPct', reason: 'Lamps are meant.' });
    await decide({ kind: 'approve' }, 'S. Quill');
    const approved = await out();
    const measured = (await server.get<ClipDetail>(`/clips/${clip.id}`)).measurement!;
    const csv = await (await fetch(`${server.url}/api/clips/${clip.id}/out/findings.csv`)).text();
    const spec = (await server.get<DeliverySpec[]>('/specs')).find((s) => s.id === 'broadcast-hd')!;
    const lenient = { ...spec, limits: spec.limits.map((l) => ({ ...l, pass: 50, fail: 90 })) };
    await server.send('POST', '/specs', { spec: lenient, replaces: spec.version });
    const clean = measurementWith({ noise: { lumaPct: 0.1 } });
    const other = { ...clean, clip: { ...clean.clip, file: clip.name } };
    await server.remeasured(clip.id, other);
    await server.send('PATCH', `/clips/${clip.id}`, { note: 'Written after it was approved.' });
    expect(await out()).to.deep.equal(approved);
    expect(await (await fetch(`${server.url}/api/clips/${clip.id}/out/findings.csv`)).text()).to.equal(csv);
    await decide({ kind: 'reopen', reason: 'New limits.' });
    expect(await out()).to.not.deep.equal(approved);
    await server.remeasured(clip.id, measured);
    await server.send('POST', '/specs', { spec, replaces: spec.version + 1 });
  });

  it('are not lost or mixed when many are made at once', async () => {
    const before = (await server.get<ClipPlan>(`/clips/${clip.id}/plan`)).history.length;
    const names = Array.from({ length: 12 }, (_, i) => `Mara ${i}`);
    const made = await Promise.all(names.map((to) => decide({ kind: 'assign', to })));
    expect(made.map((m) => m.status)).to.deep.equal(names.map(() => 201));
    const { history } = await server.get<ClipPlan>(`/clips/${clip.id}/plan`);
    expect(history).to.have.length(before + names.length);
    await decide({ kind: 'assign', to: 'Mara' });
  });

  it('make up the work list of the batch, with what can be treated together', async () => {
    const work = await server.get<WorkItem[]>(`/batches/${batch.id}/work`);
    expect(work.map((w) => w.clip)).to.deep.equal(['night.mov', 'night 2.mov']);
    expect(work[0].plan.assignee).to.equal('Mara');
    expect(work[0].alike).to.equal(work[1].alike);
    expect(work[0].severity.reduceNoise).to.be.greaterThan(60);
  });
});
