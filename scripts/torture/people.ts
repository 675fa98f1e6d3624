import { copyFile, readFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { BatchDetail, Clip, Decision, Overrides } from '@bevrin/contract';
import type { Random } from '@bevrin/rig';
import { askOffset, openUpload, sendPart } from '../setup/tus.js';
import type { House } from './house.js';

const TRY_AGAIN_MS = 200;
const pause = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

/** Asks until there is an answer that is not the server's own trouble, as people and pages do. */
const persist = async (ask: () => Promise<Response>): Promise<Response> => {
  for (;;) {
    const answer = await ask().catch(() => null);
    if (answer && answer.status < 500) return answer;
    await pause(TRY_AGAIN_MS);
  }
};

const json = (method: string, body: unknown): RequestInit => ({
  method,
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify(body),
});

export const ask = async <T>(house: House, path: string): Promise<T> =>
  (await (await persist(() => fetch(house.url + path))).json()) as T;

export const tell = async <T>(house: House, path: string, body: unknown): Promise<T> =>
  (await (await persist(() => fetch(house.url + path, json('POST', body)))).json()) as T;

/** Sends a file in pieces, and goes on from what the server says it has, until the server has all of it. */
export const send = async (
  house: House,
  batchId: string,
  file: string,
  name: string,
  pieces: number,
): Promise<void> => {
  const content = new Uint8Array(await readFile(file));
  const piece = Math.ceil(content.length / pieces);
  const { origin } = new URL(house.url);
  const create = async (): Promise<string> => {
    for (;;) {
      const opened = await openUpload(origin, batchId, name, content.length).catch(() => null);
      if (opened && opened.status < 500) return opened.address;
      await pause(TRY_AGAIN_MS);
    }
  };
  let address = await create();
  for (;;) {
    const head = await persist(() => askOffset(address));
    if (!head.ok) {
      address = await create();
      continue;
    }
    const offset = Number(head.headers.get('upload-offset'));
    if (offset === content.length) return;
    await sendPart(address, offset, content.slice(offset, offset + piece)).catch(() => null);
  }
};

/** Puts a file into the media folder and registers it. */
export const register = async (house: House, batchId: string, file: string, name: string): Promise<void> => {
  const path = join(house.home, 'media', name);
  await copyFile(file, path);
  await persist(() => fetch(`${house.url}/batches/${batchId}/clips`, json('POST', { path })));
};

/** Something that was asked of the server, and whether it said that it is kept. */
export interface Asked {
  readonly clip: string;
  readonly decision: Decision;
  kept: boolean;
}

/** Decides on measured clips, one thing after the other, and remembers what the server said of each. */
export class Technician {
  readonly asked: Asked[] = [];
  /** For each clip the notes that were written, in their order. */
  readonly notes = new Map<string, { readonly text: string; kept: boolean }[]>();
  private leaving = false;

  constructor(
    private readonly house: House,
    private readonly batchId: string,
    private readonly random: Random,
  ) {}

  leave(): void {
    this.leaving = true;
  }

  async work(): Promise<void> {
    for (let n = 0; !this.leaving; n++) {
      const batch = await fetch(`${this.house.url}/batches/${this.batchId}`)
        .then((r) => (r.ok ? (r.json() as Promise<BatchDetail>) : null))
        .catch(() => null);
      const measured = batch?.clips.filter((c) => c.state === 'measured') ?? [];
      const clip = measured[Math.floor(this.random() * measured.length)];
      if (clip) await (n % 4 === 3 ? this.write(clip, n) : this.decide(clip, n));
      await pause(40 + 120 * this.random());
    }
  }

  private async decide({ name, id }: Clip, n: number): Promise<void> {
    const overrides: Overrides = { range: { startFrame: 0, endFrame: 20 + Math.floor(19 * this.random()) } };
    const decision: Decision =
      n % 5 === 0 ? { kind: 'overrule', overrides } : { kind: 'frameNote', frame: n % 40, text: `note ${n}` };
    const asked: Asked = { clip: name, decision, kept: false };
    this.asked.push(asked);
    const body = { who: 'R. Hale', decision };
    const answer = await fetch(`${this.house.url}/clips/${id}/decisions`, json('POST', body)).catch(
      () => null,
    );
    asked.kept = answer?.status === 201;
  }

  private async write({ name, id }: Clip, n: number): Promise<void> {
    const note = { text: `written ${n}`, kept: false };
    this.notes.set(name, [...(this.notes.get(name) ?? []), note]);
    const change = json('PATCH', { note: note.text });
    const answer = await fetch(`${this.house.url}/clips/${id}`, change).catch(() => null);
    note.kept = answer?.status === 200;
  }
}

export const nameOf = (file: string, n: number): string => `T${String(n).padStart(3, '0')} ${basename(file)}`;
