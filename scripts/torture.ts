import { chmodSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { isDeepStrictEqual } from 'node:util';
import getPort from 'get-port';
import type { Batch, BatchDetail, ClipDetail, ClipPlan, Measurement, Overrides } from '@bevrin/contract';
import { measureClip } from '@bevrin/media';
import { renderStudy, seeded, type StudyClip } from '@bevrin/rig';
import { removePostgres } from './setup/postgres.js';
import { buildWeb } from './setup/web-build.js';
import { House, type Victim } from './torture/house.js';
import { ask, nameOf, register, send, Technician, tell } from './torture/people.js';

/**
 * Kills server, decoder and database at random moments while clips come in, are measured and decided on, and looks
 * afterwards whether anything was lost, doubled, wrong or left undone.
 */
const KILLS = Number(process.argv[2] ?? 30);
const SEED = Number(process.argv[3] ?? 20261125);
/** A clip is sent, and another registered, for about every so many kills. */
const KILLS_PER_PAIR = 3;
const PIECES = 12;
/** Between two kills: from before a server has come up again to long after. */
const [LEAST_PAUSE_MS, PAUSE_SPREAD_MS] = [300, 6000];
const VICTIMS: readonly Victim[] = ['server', 'decoder', 'database'];
const FINISHED_WITHIN_MS = 300_000;

const base = {
  width: 320,
  height: 180,
  frames: 40,
  codec: 'h264',
  study: 'wall',
  camera: { handPx: 0.3 },
} as const;
const KINDS: readonly StudyClip[] = [
  { ...base, seed: 81, noisePct: [0.4, 0.4, 0.4] },
  { ...base, seed: 82, noisePct: [5, 5, 5] },
  { ...base, seed: 83, noisePct: [0.4, 0.4, 0.4], light: { pulseHz: 4, depth: 0.12 } },
];

const random = seeded(SEED);
const pause = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

console.log(`${KILLS} kills, seed ${SEED}`);
await buildWeb();
const files = await Promise.all(KINDS.map(async (kind) => (await renderStudy(kind)).path));
const home = mkdtempSync(join(tmpdir(), 'bevrin-torture-'));
chmodSync(home, 0o755);
mkdirSync(join(home, 'media'));
const house = new House(home, await getPort());

/** What a clip measures when nobody disturbs it. */
const undisturbed = new Map<string, Promise<Measurement>>();
const reference = (file: string, overrides: Overrides): Promise<Measurement> => {
  const key = file + JSON.stringify(overrides);
  const known = undisturbed.get(key) ?? measureClip(file, { overrides });
  undisturbed.set(key, known);
  return known;
};

const killed: Record<Victim, number> = { server: 0, decoder: 0, database: 0 };
const killAll = async (): Promise<void> => {
  for (let n = 0; n < KILLS; n++) {
    await pause(LEAST_PAUSE_MS + PAUSE_SPREAD_MS * random());
    const victim = VICTIMS[Math.floor(random() * VICTIMS.length)];
    // A decoder lives for a moment only: it is waited for.
    for (let tries = 0; tries < 200 && !house.kill(victim); tries++) await pause(20);
    killed[victim]++;
  }
};

const faults: string[] = [];
const must = (holds: boolean, otherwise: string): void => void (holds || faults.push(otherwise));

const inspect = async (
  batch: Batch,
  technician: Technician,
  sent: ReadonlyMap<string, string>,
): Promise<void> => {
  const { clips } = await ask<BatchDetail>(house, `/batches/${batch.id}`);
  for (const [name, file] of sent) {
    const found = clips.filter((c) => c.name === name);
    must(found.length === 1, `${name}: there ${found.length} times`);
    if (found.length !== 1) continue;
    const clip = await ask<ClipDetail>(house, `/clips/${found[0].id}`);
    must(clip.state === 'measured', `${name}: ${clip.state}, ${clip.error ?? ''}`);
    if (clip.state !== 'measured' || !clip.measurement) continue;
    const truth = await reference(file, clip.overrides);
    const same = { ...truth, clip: { ...truth.clip, file: name } };
    // As it came over the line: JSON knows no undefined.
    const isSame = isDeepStrictEqual(clip.measurement, JSON.parse(JSON.stringify(same)));
    must(isSame, `${name}: its document is not what it is undisturbed`);
    const { history } = await ask<ClipPlan>(house, `/clips/${clip.id}/plan`);
    const asked = technician.asked.filter((a) => a.clip === name);
    const count = (of: readonly { decision: unknown }[], what: unknown): number =>
      of.filter((d) => isDeepStrictEqual(d.decision, what)).length;
    for (const a of asked.filter((d) => d.kept))
      must(count(history, a.decision) > 0, `${name}: lost ${JSON.stringify(a.decision)}`);
    for (const h of history)
      must(
        count(history, h.decision) <= count(asked, h.decision),
        `${name}: holds more than was decided, ${JSON.stringify(h.decision)}`,
      );
    const notes = technician.notes.get(name) ?? [];
    const lastKept = notes.findLastIndex((w) => w.kept);
    const possible =
      lastKept < 0 ? ['', ...notes.map((w) => w.text)] : notes.slice(lastKept).map((w) => w.text);
    must(
      possible.includes(clip.note),
      `${name}: its note is "${clip.note}", not one of ${possible.join(', ')}`,
    );
  }
};

let technician: Technician | null = null;
try {
  house.open();
  const batch = await tell<Batch>(house, '/batches', { name: 'Torture', specId: 'broadcast-hd' });
  const sent = new Map<string, string>();
  const pairs = Math.ceil(KILLS / KILLS_PER_PAIR);
  const bring = async (): Promise<void> => {
    for (let n = 0; n < pairs; n++) {
      const file = files[n % files.length];
      const [up, here] = [nameOf(file, 2 * n), nameOf(file, 2 * n + 1)];
      sent.set(up, file).set(here, file);
      await Promise.all([send(house, batch.id, file, up, PIECES), register(house, batch.id, file, here)]);
      await pause(1500 * random());
    }
  };
  technician = new Technician(house, batch.id, seeded(SEED + 1));
  const deciding = technician.work();
  await Promise.all([killAll(), bring()]);
  technician.leave();
  await deciding;
  const deadline = Date.now() + FINISHED_WITHIN_MS;
  for (;;) {
    const { clips } = await ask<BatchDetail>(house, `/batches/${batch.id}`);
    const details = await Promise.all(clips.map((c) => ask<ClipDetail>(house, `/clips/${c.id}`)));
    const rest = details.filter(
      (c) =>
        c.state !== 'failed' &&
        !(c.state === 'measured' && isDeepStrictEqual(c.overrides, c.measurement?.measuredUnder ?? {})),
    );
    if (rest.length === 0) break;
    if (Date.now() > deadline) {
      faults.push(`not finished: ${rest.map((c) => `${c.name} is ${c.state}`).join(', ')}`);
      break;
    }
    await pause(500);
  }
  await inspect(batch, technician, sent);
  const kept = technician.asked.filter((a) => a.kept).length;
  console.log(
    `killed: server ${killed.server}, decoder ${killed.decoder}, database ${killed.database}; ${sent.size} clips; ${kept} of ${technician.asked.length} decisions were said to be kept`,
  );
} finally {
  technician?.leave();
  await house.close();
  await removePostgres(join(home, 'postgres'));
  rmSync(home, { recursive: true, force: true });
}
if (faults.length > 0) {
  console.error(faults.join('\n'));
  console.error(house.printed);
} else console.log('Nothing was lost, nothing is wrong, everything is finished.');
process.exit(faults.length > 0 ? 1 : 0);
