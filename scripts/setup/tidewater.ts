import { spawn } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { mkdir } from 'node:fs/promises';
import { cpus } from 'node:os';
import { join } from 'node:path';
import type { ClipDetail } from '@bevrin/contract';
import { BATCH, PRODUCTION, TIDEWATER } from '@bevrin/rig';
import type { RunningServer } from '@bevrin/server';

/** Draws the clips of the demo that are not there yet, side by side. */
export const renderDemo = async (folder: string): Promise<void> => {
  await mkdir(folder, { recursive: true });
  const missing = TIDEWATER.filter((clip) => !existsSync(join(folder, `${clip.name}.truth.json`)));
  if (missing.length === 0) return;
  console.log(`Rendering ${missing.length} demo clips, once; this takes a few minutes …`);
  const queue = [...missing];
  const drawer = async (): Promise<void> => {
    for (let clip = queue.shift(); clip; clip = queue.shift()) {
      await inOwnProcess(clip.name, folder);
      console.log(`  ${clip.name}`);
    }
  };
  await Promise.all(Array.from({ length: Math.max(1, Math.min(cpus().length, missing.length)) }, drawer));
};

const inOwnProcess = (name: string, folder: string): Promise<void> =>
  new Promise((resolve, reject) => {
    const child = spawn(
      process.execPath,
      ['--import', 'tsx', 'scripts/setup/render-demo-clip.ts', name, folder],
      { stdio: ['ignore', 'inherit', 'inherit'] },
    );
    child.once('error', reject);
    child.once('exit', (code) =>
      code === 0 ? resolve() : reject(new Error(`${name} could not be rendered.`)),
    );
  });

/** Opens the demo's batch, unless it is there already, and waits until its clips are measured. */
export const loadDemo = async ({ store, jobs }: RunningServer, folder: string): Promise<void> => {
  const known = (await store.batches()).find((b) => b.production === PRODUCTION && b.name === BATCH);
  const batch =
    known ??
    (await store.createBatch({ name: BATCH, production: PRODUCTION, specId: 'broadcast-hd', dueOn: null }));
  for (const { name } of TIDEWATER) {
    const path = join(folder, name);
    if (await store.hasPath(batch.id, path)) continue;
    // A clip that the technician removed from a batch that was there before stays away.
    if (known) continue;
    const truth = JSON.parse(readFileSync(`${path}.truth.json`, 'utf8')) as ClipDetail['truth'];
    const clip = await store.add({ batchId: batch.id, name, path, state: 'queued', truth });
    await jobs.enqueue(clip.id);
  }
  await untilMeasured(store, batch.id);
};

const untilMeasured = async (store: RunningServer['store'], batchId: string): Promise<void> => {
  let said = '';
  for (;;) {
    const clips = await store.clipsOf(batchId);
    const left = clips.filter((c) => c.state === 'queued' || c.state === 'measuring').length;
    if (left === 0) return;
    const line = `Measuring the demo clips: ${clips.length - left} of ${clips.length} done …`;
    if (line !== said) console.log((said = line));
    await new Promise((done) => setTimeout(done, 500));
  }
};
