import { fork } from 'node:child_process';
import { existsSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { mkdir } from 'node:fs/promises';
import { cpus } from 'node:os';
import { join } from 'node:path';
import type { ClipDetail } from '@bevrin/contract';
import { BATCH, PRODUCTION, TIDEWATER } from '@bevrin/rig';
import type { RunningServer } from '@bevrin/server';
import { returnDemo } from './returns.js';

const truthOf = (folder: string, name: string): string => join(folder, `${name}.truth.json`);

/**
 * Draws the clips of the demo that are not there yet, side by side on all cores.
 * @param drawn is told of each clip when its file is complete; of those that were there, at once
 */
export const renderDemo = async (
  folder: string,
  drawn: (name: string) => Promise<void> = () => Promise.resolve(),
): Promise<void> => {
  await mkdir(folder, { recursive: true });
  const isThere = ({ name }: { name: string }): boolean => existsSync(truthOf(folder, name));
  for (const { name } of TIDEWATER.filter(isThere)) await drawn(name);
  const queue = TIDEWATER.filter((clip) => !isThere(clip));
  if (queue.length === 0) return;
  console.log(`Drawing ${queue.length} demo clips, once; each comes in when it is drawn.`);
  const drawer = async (): Promise<void> => {
    const process = drawingIn(folder);
    try {
      for (let clip = queue.shift(); clip; clip = queue.shift()) {
        await process.draw(clip.name);
        await drawn(clip.name);
      }
    } finally {
      process.end();
    }
  };
  await Promise.all(Array.from({ length: Math.max(1, cpus().length) }, drawer));
};

/** A process that draws one clip after the other: what it needs for all of them is made once. */
const drawingIn = (folder: string): { draw(name: string): Promise<void>; end(): void } => {
  const child = fork(join('scripts', 'setup', 'render-demo-clip.ts'), [folder], {
    execArgv: ['--import', 'tsx'],
  });
  return {
    draw: (name) =>
      new Promise((resolve, reject) => {
        const failed = (): void => reject(new Error(`${name} could not be drawn.`));
        child.once('exit', failed).once('error', failed);
        child.once('message', () => {
          child.off('exit', failed).off('error', failed);
          resolve();
        });
        child.send(name);
      }),
    end: () => void (child.connected && child.disconnect()),
  };
};

/** Which clips were delivered to which batch: one that the technician removed stays away. */
interface Deliveries {
  readonly batchId: string;
  readonly names: readonly string[];
}
const noteIn = (home: string): string => join(home, 'delivered.json');

export const forgetDeliveries = (home: string): void => rmSync(noteIn(home), { force: true });

const deliveriesTo = (home: string, batchId: string): readonly string[] | null => {
  if (!existsSync(noteIn(home))) return null;
  const note = JSON.parse(readFileSync(noteIn(home), 'utf8')) as Deliveries;
  return note.batchId === batchId ? note.names : null;
};

const noteDelivery = (home: string, batchId: string, names: readonly string[]): void => {
  writeFileSync(`${noteIn(home)}.part`, JSON.stringify({ batchId, names } satisfies Deliveries));
  renameSync(`${noteIn(home)}.part`, noteIn(home));
};

/** Opens the demo's batch, unless it is there already, and brings its clips in one by one as they are drawn. */
export const deliverDemo = async (server: RunningServer, home: string, folder: string): Promise<void> => {
  const { clips: store, queue, trials } = server.store;
  const known = (await store.batches()).find((b) => b.production === PRODUCTION && b.name === BATCH);
  const batch =
    known ??
    (await store.createBatch({ name: BATCH, production: PRODUCTION, specId: 'broadcast-hd', dueOn: null }));
  // A batch of an earlier version was filled at once.
  const all = TIDEWATER.map((c) => c.name);
  let delivered = deliveriesTo(home, batch.id) ?? (known && known.clipCount > 0 ? all : []);
  // Trials that nobody waits for took half of the machine while the clips were drawn.
  const release = trials.holdBack();
  await renderDemo(folder, async (name) => {
    if (delivered.includes(name)) return;
    const path = join(folder, name);
    if (!(await store.hasPath(batch.id, path))) {
      const truth = JSON.parse(readFileSync(truthOf(folder, name), 'utf8')) as ClipDetail['truth'];
      const clip = await store.add({ batchId: batch.id, name, state: 'queued', file: { path }, truth });
      await queue.enqueue(clip.id);
      console.log(`  ${name} has come in`);
    }
    delivered = [...delivered, name];
    noteDelivery(home, batch.id, delivered);
  }).finally(release);
  void tellWhenMeasured(store, batch.id)
    .then(() => returnDemo(server, batch.id, home))
    .catch((error: unknown) => console.error('The repairs of the demo did not come back:', error));
};

/** Says when there is nothing left to measure; nobody waits for it. */
const tellWhenMeasured = async (store: RunningServer['store']['clips'], batchId: string): Promise<void> => {
  let waited = false;
  for (;;) {
    const clips = await store.clipsOf(batchId).catch(() => null);
    if (clips && !clips.some((c) => c.state === 'queued' || c.state === 'measuring')) break;
    waited = true;
    await new Promise((done) => setTimeout(done, 1000));
  }
  if (waited) console.log('All demo clips are measured.');
};
