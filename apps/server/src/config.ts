import { join, resolve } from 'node:path';
import { z } from 'zod';
import { readLimits } from '@bevrin/media';
import { ROLES, type Role } from './role.js';

const Environment = z.object({
  PORT: z.coerce.number().int().min(0).max(65535).default(4180),
  DATABASE_URL: z.string().min(1),
  BEVRIN_VAR: z.string().default('var'),
  /** Folders on the server from which clips may be registered, separated by colons. */
  MEDIA_DIRS: z.string().default('media'),
  /** What the process does: everything, only answer, or only measure. */
  BEVRIN_ROLE: z.enum(ROLES).default('all'),
  /** Megabytes of the disk that are kept free: below it nothing is taken in or measured. */
  BEVRIN_RESERVE_MB: z.coerce.number().nonnegative().default(500),
  /** Minutes that the steps of one clip's plan may be tried without being asked; 0 tries none. */
  BEVRIN_TRIAL_MINUTES: z.coerce.number().nonnegative().default(6),
  /** Megabytes of frames of trials that are kept to be looked at: beyond it the oldest are dropped. */
  BEVRIN_TRIAL_MB: z.coerce.number().nonnegative().default(20_000),
});

export interface Config {
  readonly port: number;
  readonly databaseUrl: string;
  /** Where uploads, proxies and posters are kept. */
  readonly storeDir: string;
  readonly mediaDirs: readonly string[];
  readonly reserveBytes: number;
  readonly webDir: string | null;
  readonly role: Role;
  readonly trialSeconds: number;
  readonly trialBytes: number;
}

/** @throws {Error} naming the variable that is wrong */
export const readConfig = (environment: NodeJS.ProcessEnv, webDir: string | null): Config => {
  const parsed = Environment.safeParse(environment);
  if (!parsed.success) {
    const [issue] = parsed.error.issues;
    throw new Error(`The environment variable ${issue.path.join('.')} is not usable: ${issue.message}`);
  }
  readLimits(environment);
  const { PORT, DATABASE_URL, BEVRIN_VAR, MEDIA_DIRS, BEVRIN_RESERVE_MB, BEVRIN_ROLE } = parsed.data;
  const { BEVRIN_TRIAL_MINUTES, BEVRIN_TRIAL_MB } = parsed.data;
  return {
    port: PORT,
    databaseUrl: DATABASE_URL,
    storeDir: join(resolve(BEVRIN_VAR), 'store'),
    mediaDirs: MEDIA_DIRS.split(':')
      .filter(Boolean)
      .map((d) => resolve(d)),
    reserveBytes: BEVRIN_RESERVE_MB * 1e6,
    webDir,
    role: BEVRIN_ROLE,
    trialSeconds: BEVRIN_TRIAL_MINUTES * 60,
    trialBytes: BEVRIN_TRIAL_MB * 1e6,
  };
};
