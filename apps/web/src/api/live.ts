import { LiveEvent } from '@bevrin/contract';

/**
 * What the server tells. A page holds one connection however many parts of it listen: a browser opens only a few to one
 * server, and each that stays open is lost to pictures.
 */
const listeners = new Set<(event: LiveEvent) => void>();
let source: EventSource | null = null;

/** @returns ends the listening */
export const listen = (hear: (event: LiveEvent) => void): (() => void) => {
  listeners.add(hear);
  if (!source) {
    source = new EventSource('/api/events');
    source.onmessage = ({ data }: MessageEvent<string>) => {
      const event = LiveEvent.parse(JSON.parse(data));
      listeners.forEach((l) => l(event));
    };
  }
  return () => {
    listeners.delete(hear);
    if (listeners.size > 0) return;
    source?.close();
    source = null;
  };
};
