import type { ErrorRequestHandler } from 'express';
import type { Logger } from 'pino';
import { ZodError } from 'zod';
import { SettingUnusable, TreatmentUnusable } from '@bevrin/core';
import { ClipUnreadable, DecoderStopped, DiskFull, ToolMissing } from '@bevrin/media';
import { SpecUnusable } from '@bevrin/specs';

/** Something the caller can put right, or wait for: what happened and what to do next. */
export class Problem extends Error {
  override readonly name = 'Problem';
  constructor(
    readonly status: 400 | 403 | 404 | 409 | 422 | 503 | 507,
    message: string,
  ) {
    super(message);
  }
}

/** What any error means to a person, and its HTTP status. */
export const explain = (error: unknown): { status: number; message: string } => {
  if (error instanceof Problem) return { status: error.status, message: error.message };
  if (error instanceof ZodError)
    return { status: 400, message: error.issues.map((i) => `${i.path.join('.')}: ${i.message}`).join(' ') };
  for (const unusable of [ClipUnreadable, SpecUnusable, SettingUnusable, TreatmentUnusable])
    if (error instanceof unusable) return { status: 422, message: error.message };
  if (error instanceof ToolMissing || error instanceof DecoderStopped)
    return { status: 503, message: error.message };
  const code = codeOf(error);
  if (error instanceof DiskFull || FULL.has(code)) return { status: 507, message: new DiskFull().message };
  if (isUnreachable(error)) return { status: 503, message: RESTARTING };
  // An id or a number in an address that cannot be one names nothing.
  if (code === '22P02' || code === '22003')
    return { status: 404, message: 'There is nothing at this address. Check it, or go back to the list.' };
  // Class 22 of the SQL standard: data that a column cannot hold, such as a zero character.
  if (/^22\w{3}$/.test(code))
    return { status: 400, message: 'The request holds a value that cannot be stored. Check what was sent.' };
  return refusedByExpress(error) ?? { status: 500, message: FAILED };
};

const FAILED =
  'The server failed. What was decided before is kept; try again, and look into its log if it fails again.';
const RESTARTING =
  'The database does not answer; it is started again by itself. Try again in a moment, and look whether it was done already.';

/** The disk is full: as the system says it, and as PostgreSQL does. */
const FULL = new Set(['ENOSPC', 'EDQUOT', '53100']);
/** Nobody listens, the connection broke, or PostgreSQL shuts down or starts (SQLSTATE classes 08 and 57P). */
const UNREACHABLE = /^(ECONNREFUSED|ECONNRESET|EPIPE|08\w{3}|57P0[123])$/;

/** The error itself and what it was caused by. */
const chainOf = (error: unknown): { code?: unknown; message?: unknown }[] => {
  const chain: { code?: unknown; message?: unknown }[] = [];
  for (let e = error; typeof e === 'object' && e !== null && chain.length < 5; e = (e as Error).cause)
    chain.push(e);
  return chain;
};

/** The code of the error, or of what caused it; empty where none has one. */
export const codeOf = (error: unknown): string =>
  String(chainOf(error).find((e) => typeof e.code === 'string')?.code ?? '');

/** Whether the database could not be reached, or was lost on the way. */
export const isUnreachable = (error: unknown): boolean =>
  chainOf(error).some(
    (e) =>
      UNREACHABLE.test(String(e.code ?? '')) ||
      /Connection terminated|connection error and is not queryable/.test(String(e.message ?? '')),
  );

/** What Express and its parsers refuse, in our words. */
const refusedByExpress = (error: unknown): { status: number; message: string } | null => {
  const { status, type } = (error ?? {}) as { status?: number; type?: string };
  if (error instanceof URIError) return { status: 400, message: 'The address is not written correctly.' };
  if (typeof status !== 'number' || status < 400 || status >= 500) return null;
  return { status, message: REFUSALS[type ?? ''] ?? REFUSALS[status] ?? 'The request cannot be understood.' };
};
const REFUSALS: Record<string, string> = {
  'entity.parse.failed': 'What was sent is not JSON. Nothing was changed; send it again.',
  'entity.too.large': 'What was sent is larger than 16 MB. Nothing was changed; send less.',
  'encoding.unsupported': 'What was sent is packed in a way that is not understood here.',
  'charset.unsupported': 'What was sent is not UTF-8.',
  404: 'There is no such file.',
  413: 'What was sent is too large. Nothing was changed; send less.',
  416: 'The file has no such part. Ask for one that lies inside it.',
};

export const answerProblems =
  (log: Logger): ErrorRequestHandler =>
  (error, request, response, _next) => {
    const { status, message } = explain(error);
    if (status >= 500) log.error({ err: error, url: request.url }, 'request failed');
    if (response.headersSent) response.destroy();
    else response.status(status).json({ error: message });
  };
