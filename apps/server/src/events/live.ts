import { EventEmitter } from 'node:events';
import type { Request, Response } from 'express';
import type { Logger } from 'pino';
import type { LiveEvent } from '@bevrin/contract';
import type { ClipStore } from '../clips/clips.js';
import type { Connection, Listening } from '../database/connect.js';
import { hearAnnouncements, type Announcement } from './announcements.js';

const BEAT_MS = 20_000;
/** Clips that change at the same time are read at once. */
const GATHER_MS = 40;

/** Tells open pages what changes, as server-sent events (WHATWG HTML, section 9.2), whichever process changed it. */
export class Live {
  private readonly emitter = new EventEmitter().setMaxListeners(0);
  private readonly changed = new Set<string>();
  private gathering: NodeJS.Timeout | undefined;
  private listening: Listening | undefined;

  constructor(
    private readonly clips: ClipStore,
    private readonly log: Logger,
  ) {}

  async start(connection: Connection): Promise<void> {
    this.listening = await hearAnnouncements(
      connection,
      (what) => this.heard(what),
      // A page that connects anew asks for everything anew.
      () => this.emitter.emit('end'),
    );
  }

  async stop(): Promise<void> {
    clearTimeout(this.gathering);
    await this.listening?.stop();
  }

  tell(event: LiveEvent): void {
    this.emitter.emit('event', event);
  }

  listen = (request: Request, response: Response): void => {
    response.writeHead(200, {
      'content-type': 'text/event-stream',
      'cache-control': 'no-store',
      connection: 'keep-alive',
    });
    response.write(': open\n\n');
    const send = (event: LiveEvent): void => void response.write(`data: ${JSON.stringify(event)}\n\n`);
    const end = (): void => void response.end();
    const beat = setInterval(() => response.write(': beat\n\n'), BEAT_MS);
    this.emitter.on('event', send).on('end', end);
    request.on('close', () => {
      clearInterval(beat);
      this.emitter.off('event', send).off('end', end);
    });
  };

  private heard(what: Announcement): void {
    if (what.kind === 'clipRemoved') this.tell(what);
    if (what.kind === 'trial') this.tell({ kind: 'trial', clipId: what.clipId });
    if (what.kind === 'recheck') this.tell({ kind: 'recheck', clipId: what.clipId });
    if (what.kind !== 'clip') return;
    this.changed.add(what.clipId);
    this.gathering ??= setTimeout(() => void this.tellChanged(), GATHER_MS);
  }

  private async tellChanged(): Promise<void> {
    this.gathering = undefined;
    const ids = [...this.changed];
    this.changed.clear();
    try {
      for (const clip of await this.clips.clipsNamed(ids)) this.tell({ kind: 'clip', clip });
    } catch (error) {
      this.log.debug({ err: error }, 'a change was not told; the pages ask again when the database is back');
    }
  }
}
