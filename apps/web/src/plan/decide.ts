import type { Decision } from '@bevrin/contract';

/** Keeps a decision on the plan in hand; whether it was kept. */
export type Decide = (decision: Decision) => Promise<boolean>;
