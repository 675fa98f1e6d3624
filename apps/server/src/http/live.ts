import { EventEmitter } from 'node:events';
import type { Request, Response } from 'express';
import type { LiveEvent } from '@bevrin/contract';

const BEAT_MS = 20_000;

/** Tells open pages what changes, as server-sent events (WHATWG HTML, section 9.2). */
export class Live {
  private readonly emitter = new EventEmitter().setMaxListeners(0);

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
    const beat = setInterval(() => response.write(': beat\n\n'), BEAT_MS);
    this.emitter.on('event', send);
    request.on('close', () => {
      clearInterval(beat);
      this.emitter.off('event', send);
    });
  };
}
