import { expect } from 'chai';
import { existsSync } from 'node:fs';
import { copyFile } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import {
  Trial,
  type Batch,
  type DeliverySpec,
  type Clip,
  type ClipPlan,
  type ClipTrial,
} from '@bevrin/contract';
import { clipFile, FRAMES } from '../../../tests/support/clips.js';
import { ServerProcess } from '../../../tests/support/server-process.js';
import { inLongRuns } from '../../../tests/support/share.js';
import { textOfPdf } from '../../../tests/support/pdf.js';
import { startTestServer, type TestServer } from '../../../tests/support/test-server.js';
import { until } from '../../../tests/support/until.js';

const WHO = 'R. Tester';

interface House {
  send(method: string, path: string, body?: unknown): Promise<{ status: number; body: unknown }>;
  get<T>(path: string): Promise<T>;
  settled(clipId: string): Promise<unknown>;
  readonly media: string;
}

/** A measured clip in a batch of its own. */
const measured = async (
  house: House,
  { specId = 'broadcast-hd', name = 'noisy' as 'noisy' | 'brief' } = {},
): Promise<Clip> => {
  const batch = (await house.send('POST', '/batches', { name: 'Reel 3', specId })).body as Batch;
  const path = join(house.media, 'noisy.mp4');
  await copyFile(await clipFile(name), path);
  const { body } = await house.send('POST', `/batches/${batch.id}/clips`, { path });
  const [clip] = (body as { added: Clip[] }).added;
  await house.settled(clip.id);
  return clip;
};

const trialsOf = (house: House, clip: Clip): Promise<ClipTrial[]> => house.get(`/clips/${clip.id}/trials`);

/** A trial that has come to an end. */
const ended = async (house: House, clip: Clip, id?: string): Promise<ClipTrial> => {
  let found: ClipTrial | undefined;
  await until(async () => {
    found = (await trialsOf(house, clip)).find((t) => id === undefined || t.id === id);
    return found !== undefined && found.state !== 'waiting' && found.state !== 'running';
  });
  return found!;
};

describe('trials of a clip', function () {
  this.timeout(180_000);
  let server: TestServer;
  let clip: Clip;
  const ask = (body: object): Promise<{ status: number; body: unknown }> =>
    server.send('POST', `/clips/${clip.id}/trials`, { who: WHO, ...body });

  before(async () => {
    server = await startTestServer();
    clip = await measured(server);
  });
  after(() => server.stop());

  it('shows one treated frame long before the first setting is measured', async () => {
    const range = { startFrame: 4, endFrame: 24 };
    const { body } = await ask({
      treatment: 'reduceNoise',
      sweep: { key: 'framesEachSide', values: [4, 5] },
      range,
    });
    const { id } = body as ClipTrial;
    let ahead: ClipTrial | undefined;
    await until(async () => {
      ahead = (await trialsOf(server, clip)).find((t) => t.id === id);
      return (ahead?.trial?.runs.length ?? 0) > 0;
    });
    const [run] = ahead!.trial!.runs;
    expect(ahead!.state).to.equal('running');
    expect(ahead!.trial!.range).to.deep.equal({ startFrame: 14, endFrame: 14 });
    expect(run.gain).to.deep.equal([]);
    expect(run.harm.detailKeptPct).to.equal(null);
    expect(run.notMeasurable.detailKeptPct).to.contain('being treated');
    const early = await fetch(`${server.url}/api/trials/${id}/runs/0/frames/14.planes`);
    expect(early.status).to.equal(200);
    const [first, { trial }] = [Buffer.from(await early.arrayBuffer()), await ended(server, clip, id)];
    expect(trial!.runs, 'the frame ahead is no run').to.have.length(2);
    expect(trial!.range).to.deep.equal(range);
    const late = await fetch(`${server.url}/api/trials/${id}/runs/0/frames/14.planes`);
    expect(Buffer.from(await late.arrayBuffer()).equals(first), 'the same frame').to.equal(true);
  });

  it('tries what is asked for, keeps its frames, and puts the run that is taken behind the step of the plan', async () => {
    const { status, body } = await ask({
      treatment: 'reduceNoise',
      sweep: { key: 'framesEachSide', values: [1, 3] },
      range: { startFrame: 10, endFrame: 17 },
    });
    expect(status).to.equal(202);
    const { trial, frames, state, error } = await ended(server, clip, (body as ClipTrial).id);
    expect(error).to.equal(null);
    expect({ state, frames }).to.deep.equal({ state: 'done', frames: true });
    expect(trial!.range).to.deep.equal({ startFrame: 10, endFrame: 17 });
    expect(trial!.runs.map((r) => r.settings.framesEachSide)).to.deep.equal([1, 3]);
    const [one, three] = trial!.runs.map((r) => r.gain.find((g) => g.reading === 'lumaPct')!);
    expect(three.to).to.be.below(one.to);
    expect(one.to).to.be.below(0.8 * one.from);
    expect(trial!.runs[0].harm.detailKeptPct).to.be.a('number');

    const id = (body as ClipTrial).id;
    const frame = (of: string) => fetch(`${server.url}/api${of}/frames/12.planes`);
    const [plain, treated] = await Promise.all([frame(`/clips/${clip.id}`), frame(`/trials/${id}/runs/1`)]);
    expect(treated.headers.get('x-frame-layout')).to.equal(plain.headers.get('x-frame-layout'));
    const [before, after] = await Promise.all(
      [plain, treated].map(async (a) => new Uint8Array(await a.arrayBuffer())),
    );
    expect(after.length).to.equal(before.length);
    expect(meanDifference(before, after)).to.be.within(1, 20);
    expect((await frame(`/trials/${id}/runs/7`)).status).to.equal(404);

    const { settings } = trial!.runs[1];
    const decision = {
      kind: 'settings',
      treatment: 'reduceNoise',
      settings: { framesEachSide: settings.framesEachSide },
      trial: { id, run: 1 },
    };
    const taken = (await server.send('POST', `/clips/${clip.id}/decisions`, { who: WHO, decision }))
      .body as ClipPlan;
    const step = taken.decided.steps.find((s) => s.treatment === 'reduceNoise')!;
    expect(step.settings.framesEachSide).to.equal(3);
    expect(step.tried).to.deep.include({ trial: id, run: 1, by: 'person' });
    const found = step.tried!.gain.find((g) => g.reading === step.expect.reading)!;
    expect(step.expect.to / step.expect.from).to.be.closeTo(found.to / found.from, 0.02);
    expect(step.cost.renderWeight).to.be.closeTo(trial!.runs[1].secondsPerFrame * 25, 0.06);
    const report = await server.get<{ clips: { plan: { steps: { tried?: object }[] } }[] }>(
      `/clips/${clip.id}/out/report.json`,
    );
    expect(report.clips[0].plan.steps.some((s) => s.tried)).to.equal(true);
    const out = async (file: string): Promise<ArrayBuffer> =>
      (await fetch(`${server.url}/api/clips/${clip.id}/out/${file}`)).arrayBuffer();
    const sheet = await textOfPdf(await out('sheet.pdf'));
    expect(sheet).to.contain('Tried on frames 10 to 17');
    expect(sheet).to.match(/fine detail kept [\d.]+ %/);
    expect(sheet).to.match(/before\s+after/);
    const [exported] = JSON.parse(new TextDecoder().decode(await out('trials.json'))) as unknown[];
    expect(Trial.parse(exported).runs).to.have.length(2);
  });

  it('says what cannot be tried, and who must be named', async () => {
    const refused = async (body: object): Promise<string> => {
      const answer = await ask(body);
      expect(answer.status).to.be.oneOf([400, 409, 422]);
      return (answer.body as { error: string }).error;
    };
    expect(await refused({ treatment: 'conform' })).to.contain('conform cannot be tried yet');
    expect(await refused({ treatment: 'reduceNoise', settings: { strength: 3 } })).to.contain(
      'There is no setting strength',
    );
    expect(
      await refused({ treatment: 'reduceNoise', sweep: { key: 'framesEachSide', values: [1, 99] } }),
    ).to.contain('framesEachSide is 99: it must lie between 0 and');
    expect(await refused({ treatment: 'reduceNoise', range: { startFrame: 30, endFrame: 90 } })).to.contain(
      `frames 30 to 90 are not all there: it has frames 0 to ${FRAMES - 1}`,
    );
    expect(await refused({ treatment: 'reduceNoise', who: ' ' })).to.contain('Say who asks');
  });

  it('tries the whole plan as it was decided on, in its order', async () => {
    expect((await ask({ treatment: 'plan', settings: { framesEachSide: 2 } })).status).to.equal(422);
    const { id } = (await ask({ treatment: 'plan', range: { startFrame: 10, endFrame: 17 } }))
      .body as ClipTrial;
    const { trial, error } = await ended(server, clip, id);
    expect(error).to.equal(null);
    const { decided } = await server.get<ClipPlan>(`/clips/${clip.id}/plan`);
    expect(trial!.runs).to.have.length(1);
    expect(trial!.runs[0].steps.map((s) => s.treatment)).to.deep.equal(decided.steps.map((s) => s.treatment));
    const noise = trial!.runs[0].steps.find((s) => s.treatment === 'reduceNoise')!;
    expect(noise.settings.framesEachSide).to.equal(3);
    expect(trial!.runs[0].gain.map((g) => g.defect)).to.include('noise');
  });

  it('ends one that is cancelled, and leaves the others alone', async () => {
    const long = (
      await ask({ treatment: 'reduceNoise', sweep: { key: 'framesEachSide', values: [1, 2, 3, 4, 5, 6] } })
    ).body as ClipTrial;
    const next = (
      await ask({
        treatment: 'sharpen',
        range: { startFrame: 5, endFrame: 8 },
        settings: { strengthPct: 40 },
      })
    ).body as ClipTrial;
    await until(
      async () => (await trialsOf(server, clip)).find((t) => t.id === long.id)?.state === 'running',
    );
    const { body } = await server.send('POST', `/trials/${long.id}/cancel`);
    expect((body as ClipTrial).state).to.equal('cancelled');
    const after = await ended(server, clip, next.id);
    expect(after.error).to.equal(null);
    expect(after.trial!.runs).to.have.length(1);
    expect((await ended(server, clip, long.id)).state).to.equal('cancelled');
  });

  it('are made side by side where there are processors for it: a short one does not wait for a long one', async function () {
    if (availableParallelism() < 2) this.skip();
    const values = [1, 2, 3, 4, 5, 6, 7, 8, 9];
    const long = (await ask({ treatment: 'reduceNoise', sweep: { key: 'framesEachSide', values } }))
      .body as ClipTrial;
    const short = (
      await ask({
        treatment: 'sharpen',
        range: { startFrame: 5, endFrame: 8 },
        settings: { strengthPct: 30 },
      })
    ).body as ClipTrial;
    expect((await ended(server, clip, short.id)).state).to.equal('done');
    expect((await trialsOf(server, clip)).find((t) => t.id === long.id)?.state).to.equal('running');
    await server.send('POST', `/trials/${long.id}/cancel`);
    await ended(server, clip, long.id);
  });

  it('drops the oldest frames when space is needed, and says so where they are asked for', async () => {
    const { store } = server.running;
    const [first] = (await trialsOf(server, clip)).filter((t) => t.state === 'done');
    const folder = store.trials.folderOf({ clipId: clip.id, id: first.id });
    expect(existsSync(folder)).to.equal(true);
    Object.assign(store.trials.limits, { trialBytes: 0 });
    await store.trials.dropFrames();
    expect(existsSync(folder)).to.equal(false);
    const [kept] = (await trialsOf(server, clip)).filter((t) => t.id === first.id);
    expect(kept.frames).to.equal(false);
    expect(kept.trial!.runs).to.have.length(2);
    const answer = await fetch(`${server.url}/api/trials/${first.id}/runs/0/frames/12.planes`);
    expect(answer.status).to.equal(404);
    expect(await answer.text()).to.contain('not kept any more');
  });
});

describe('trials that nobody asked for', function () {
  this.timeout(180_000);

  it('follow a measurement, once nothing else needs the machine, so that the plan opens with tried settings', async () => {
    const server = await startTestServer(null, {}, { BEVRIN_TRIAL_MINUTES: '5' });
    try {
      const release = server.running.store.trials.holdBack();
      const clip = await measured(server);
      await new Promise((done) => setTimeout(done, 2500));
      expect((await trialsOf(server, clip)).map((t) => t.state))
        .to.include('waiting')
        .and.not.include('running');
      release();
      const { id } = (await trialsOf(server, clip)).find((t) => t.treatment === 'reduceNoise')!;
      const { who, trial, state } = await ended(server, clip, id);
      expect({ who, state }).to.deep.equal({ who: '', state: 'done' });
      expect(trial!.runs.length).to.be.within(2, 3);
      const { decided } = await server.get<ClipPlan>(`/clips/${clip.id}/plan`);
      const step = decided.steps.find((s) => s.treatment === 'reduceNoise')!;
      expect(step.changed).to.equal(false);
      expect(step.tried).to.deep.include({ by: 'machine', run: trial!.choice.run });
      expect(step.settings.framesEachSide).to.equal(trial!.runs[trial!.choice.run!].settings.framesEachSide);
      await server.send('POST', `/clips/${clip.id}/measure`);
      await server.settled(clip.id);
      expect((await trialsOf(server, clip)).filter((t) => t.treatment === 'reduceNoise')).to.have.length(1);
    } finally {
      await server.stop();
    }
  });

  inLongRuns('follow a change of the delivery spec, for the steps that are new', async () => {
    const server = await startTestServer(null, {}, { BEVRIN_TRIAL_MINUTES: '5' });
    try {
      const [strict] = (await server.get<DeliverySpec[]>('/specs')).filter((s) => s.id === 'broadcast-hd');
      const limits = strict.limits.map((l) => ({ ...l, pass: 1000, fail: 2000 }));
      const lenient = { ...strict, id: 'lenient', name: 'Lenient', version: 1, limits };
      expect((await server.send('POST', '/specs', { spec: lenient, replaces: null })).status).to.equal(201);
      const clip = await measured(server, { specId: 'lenient', name: 'brief' });
      expect(await trialsOf(server, clip)).to.deep.equal([]);
      await server.send('PATCH', `/clips/${clip.id}`, { specId: 'broadcast-hd' });
      expect((await trialsOf(server, clip)).map((t) => t.treatment)).to.include('reduceNoise');
    } finally {
      await server.stop();
    }
  });

  it('stop at the limit of the house, and say so', async () => {
    const server = await startTestServer(null, {}, { BEVRIN_TRIAL_MINUTES: '0.001' });
    try {
      const clip = await measured(server, { name: 'brief' });
      const { state, error } = await ended(server, clip);
      expect(state).to.equal('skipped');
      expect(error).to.contain('limited to 0 minutes a clip');
    } finally {
      await server.stop();
    }
  });

  // What was being measured is finished by the same queue: see the tests of a server that is killed.
  inLongRuns('are finished later when their process is killed in the middle', async () => {
    const house = await ServerProcess.start('.', { BEVRIN_TRIAL_MINUTES: '5' });
    try {
      const clip = await measured(house);
      const noise = async (): Promise<ClipTrial | undefined> =>
        (await trialsOf(house, clip)).find((t) => t.treatment === 'reduceNoise');
      await until(async () => (await noise())?.state === 'running');
      const { id } = (await noise())!;
      await house.kill();
      await house.resume();
      const { state, trial } = await ended(house, clip, id);
      expect(state).to.equal('done');
      expect(new Set(trial!.runs.map((r) => r.settings.framesEachSide)).size).to.equal(trial!.runs.length);
    } finally {
      await house.remove();
    }
  });
});

const meanDifference = (a: Uint8Array, b: Uint8Array): number =>
  a.reduce((sum, v, i) => sum + Math.abs(v - b[i]), 0) / a.length;
