import { z } from 'zod';

/** How far a clip has come through the house, in the order in which it goes. */
export const STAGES = [
  'received',
  'measured',
  'planned',
  'approved',
  'inRepair',
  'returned',
  'rechecked',
  'sentBack',
  'signedOff',
  'waived',
] as const;
export const Stage = z.enum(STAGES);
export type Stage = z.infer<typeof Stage>;

/** What people call each stage. */
export const STAGE_NAMES: Record<Stage, string> = {
  received: 'received',
  measured: 'measured',
  planned: 'repair proposed',
  approved: 'plan approved',
  inRepair: 'in repair',
  returned: 'returned',
  rechecked: 'rechecked',
  sentBack: 'sent back',
  signedOff: 'signed off',
  waived: 'waived',
};

/** What tells how far a clip has come. */
export interface Along {
  readonly measured: boolean;
  /** Whether its plan proposes a repair. */
  readonly planned: boolean;
  readonly approved: boolean;
  readonly assignee: string;
  /** Whether it passes only because findings were waived. */
  readonly waived: boolean;
  /** The newest repaired file that came back. */
  readonly returned: { readonly done: boolean; readonly signed: 'signedOff' | 'sentBack' | null } | null;
}

/** How far a clip has come: what came back says more than what was decided before. */
export const stageOf = ({ measured, planned, approved, assignee, waived, returned }: Along): Stage => {
  if (!measured) return 'received';
  if (returned) return returned.signed ?? (returned.done ? 'rechecked' : 'returned');
  if (waived) return 'waived';
  if (!approved) return planned ? 'planned' : 'measured';
  return assignee === '' ? 'approved' : 'inRepair';
};
