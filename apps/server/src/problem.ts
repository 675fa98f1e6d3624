import type { ErrorRequestHandler } from 'express';
import type { Logger } from 'pino';
import { ZodError } from 'zod';
import { ClipUnreadable, SpecUnusable, ToolMissing } from '@bevrin/media';

/** Something the caller can put right: what happened and what to do next. */
export class Problem extends Error {
  override readonly name = 'Problem';
  constructor(
    readonly status: 400 | 403 | 404 | 409 | 422,
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
  if (error instanceof ClipUnreadable || error instanceof SpecUnusable)
    return { status: 422, message: error.message };
  if (error instanceof ToolMissing) return { status: 503, message: error.message };
  const code = (error as { code?: string } | null)?.code;
  if (code === 'ENOSPC')
    return { status: 507, message: 'The disk of the server is full. Free some space and try again.' };
  return {
    status: 500,
    message: 'The server failed. Nothing was lost; try again, and look into its log if it fails again.',
  };
};

export const answerProblems =
  (log: Logger): ErrorRequestHandler =>
  (error, request, response, _next) => {
    const { status, message } = explain(error);
    if (status >= 500) log.error({ err: error, url: request.url }, 'request failed');
    if (response.headersSent) response.destroy();
    else response.status(status).json({ error: message });
  };
