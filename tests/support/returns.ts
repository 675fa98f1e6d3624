import { copyFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Batch, Clip, ClipRecheck } from '@bevrin/contract';
import { clipFile } from './clips.js';
import { until } from './until.js';

/** Who returns repaired files in tests. */
export const WHO = 'R. Tester';
/** Settings that take the noise of the noisy clip. */
export const AVERAGED = {
  framesEachSide: 3,
  lumaStrengthPct: 9,
  chromaStrengthPct: 8,
  spatialStrengthPct: 20,
};

/** A server that tests return files to. */
export interface House {
  send(method: string, path: string, body?: unknown): Promise<{ status: number; body: unknown }>;
  get<T>(path: string): Promise<T>;
  settled(clipId: string): Promise<unknown>;
  readonly media: string;
}

/** A noisy clip that is measured. */
export const measured = async (house: House): Promise<Clip> => {
  const batch = (await house.send('POST', '/batches', { name: 'Reel 4', specId: 'broadcast-hd' }))
    .body as Batch;
  const path = join(house.media, 'noisy.mp4');
  await copyFile(await clipFile('noisy'), path);
  const { body } = await house.send('POST', `/batches/${batch.id}/clips`, { path });
  const [clip] = (body as { added: Clip[] }).added;
  await house.settled(clip.id);
  return clip;
};

/** What came back for it. */
export const returned = (house: House, clip: Clip): Promise<ClipRecheck[]> =>
  house.get(`/clips/${clip.id}/rechecks`);

/** A repaired file, once its recheck is done. */
export const proved = async (house: House, clip: Clip, id: string): Promise<ClipRecheck> => {
  let found: ClipRecheck | undefined;
  await until(async () => {
    found = (await returned(house, clip)).find((r) => r.id === id);
    return found !== undefined && found.state !== 'waiting' && found.state !== 'running';
  });
  return found!;
};
