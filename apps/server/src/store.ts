import { existsSync } from 'node:fs';
import { copyFile, mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { isNull } from 'drizzle-orm';
import { shippedSpecs } from '@bevrin/specs';
import { ClipStore } from './clips/clips.js';
import { DiskWatch } from './clips/disk-watch.js';
import { MeasurementStore } from './clips/measurement-store.js';
import { OpenedVersions } from './clips/opened-versions.js';
import { PictureStore } from './clips/picture-store.js';
import { UploadStore } from './clips/upload-store.js';
import type { Config } from './config.js';
import { connect, type Connection, type Database } from './database/connect.js';
import { versions } from './database/schema.js';
import { MeasureQueue } from './jobs/queue.js';
import { PlanStore } from './plans/plans.js';
import { RecheckStore } from './rechecks/recheck-store.js';
import { ReturnStore } from './rechecks/return-store.js';
import { TrialStore } from './trials/trial-store.js';
import { SpecStore } from './specs/specs.js';

/** What a test puts in the place of the machine's own. */
export interface Surroundings {
  /** Free bytes on the disk of a folder. */
  readonly freeBytes?: (folder: string) => Promise<number>;
  /** A sender of whom nothing was heard for so long has gone. */
  readonly uploadIdleMs?: number;
}

/** Database and files: all that is kept. Whoever serves and whoever measures stand on one each, or share one. */
export interface Store {
  readonly connection: Connection;
  readonly database: Database;
  readonly disk: DiskWatch;
  readonly pictures: PictureStore;
  readonly clips: ClipStore;
  /** Files of clips, each opened by itself. */
  readonly versions: OpenedVersions;
  readonly trials: TrialStore;
  readonly rechecks: RecheckStore;
  readonly plans: PlanStore;
  readonly queue: MeasureQueue;
  readonly uploads: UploadStore;
  /** Repaired files on their way in. */
  readonly returns: ReturnStore;
  close(): Promise<void>;
}

/** Connects to the database, brings it up to date, and opens the folders. */
export const createStore = async (config: Config, { freeBytes }: Surroundings = {}): Promise<Store> => {
  await mkdir(config.storeDir, { recursive: true });
  const connection = await connect(config.databaseUrl);
  const { database } = connection;
  const disk = new DiskWatch(config.storeDir, config.reserveBytes, freeBytes);
  await disk.start();
  const pictures = await PictureStore.open(config.storeDir);
  const specs = await SpecStore.open(database, (await shippedSpecs()).values());
  const measurements = new MeasurementStore(database);
  const clips = new ClipStore(database, specs, measurements, pictures, config.storeDir);
  const queue = new MeasureQueue(database, clips);
  const trials = new TrialStore(database, clips, disk, config);
  const returns = await ReturnStore.open(config.storeDir, disk);
  await takeOverPictures(clips, database, pictures);
  await clips.judgeUnlisted();
  // From here on: what an older house has measured is not tried all at once.
  clips.onJudged = async (ids) => {
    for (const id of ids) await trials.propose(id);
  };
  return {
    connection,
    database,
    disk,
    pictures,
    clips,
    versions: new OpenedVersions(database, clips),
    trials,
    rechecks: new RecheckStore(database, clips, returns),
    returns,
    plans: new PlanStore(database, clips, trials),
    queue,
    uploads: await UploadStore.open(config.storeDir, clips, queue, disk),
    close: async () => {
      disk.stop();
      await connection.close();
    },
  };
};

/** Pictures that an earlier version kept in a folder for each clip. */
const takeOverPictures = async (
  clips: ClipStore,
  database: Database,
  pictures: PictureStore,
): Promise<void> => {
  const bare = await database.select().from(versions).where(isNull(versions.poster));
  for (const version of bare) {
    const folder = clips.folderOf(version.clipId);
    const taken: { poster?: string; proxy?: string } = {};
    for (const [kind, name, ending] of [
      ['poster', 'poster.jpg', 'jpg'],
      ['proxy', 'proxy.mp4', 'mp4'],
    ] as const)
      if (existsSync(join(folder, name)))
        taken[kind] = await pictures.keep(ending, (at) => copyFile(join(folder, name), at));
    if (Object.keys(taken).length === 0) continue;
    await clips.changeVersion(version, taken);
    // Only what is written down is taken away.
    for (const name of ['poster.jpg', 'proxy.mp4', 'strip.jpg'])
      await rm(join(folder, name), { force: true });
  }
};
