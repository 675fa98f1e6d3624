import { LiveEvent } from '@bevrin/contract';

/**
 * What the server tells. A page holds one connection however many parts of it listen: a browser opens only a few to one
 * server, and each that stays open is lost to pictures.
 */
const listeners = new Set<(event: LiveEvent) => void>();
let source: EventSource | null = null;
let lost = false;
const returns = new Set<() => void>();

/** Is called when the connection is there again after it was lost: what happened meanwhile was not told. */
export const onReturn = (listener: () => void): void => void returns.add(listener);

/** @returns ends the listening */
export const listen = (hear: (event: LiveEvent) => void): (() => void) => {
  listeners.add(hear);
  if (!source) {
    source = new EventSource('/api/events');
    source.onerror = () => (lost = true);
    source.onopen = () => {
      if (lost) returns.forEach((l) => l());
      lost = false;
    };
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
