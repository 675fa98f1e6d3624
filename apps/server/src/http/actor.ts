import type { Request } from 'express';
import type { Actor } from '@bevrin/core';

/** Header that carries who asks, percent-encoded: names are not plain letters. */
export const ACTOR_HEADER = 'x-bevrin-actor';
const LONGEST = 80;

/** Who asks, as the request says it. A house that knows its people answers this from its own list. */
export const actorOf = (request: Request): Actor => {
  const given = request.get(ACTOR_HEADER) ?? '';
  try {
    return { name: decodeURIComponent(given).trim().slice(0, LONGEST) };
  } catch {
    return { name: '' };
  }
};
