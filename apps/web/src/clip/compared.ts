import type { Trial } from '@bevrin/contract';
import type { TriedRun } from './picture/worker.js';
import type { OpenTrial } from './trial/useTrying.js';
import { runLabel } from './trial/words.js';

/** What the frames as they came are set against: a setting that was tried, or a repaired file. */
export interface Compared extends TriedRun {
  /** Frames of the clip that it has. */
  readonly range: Trial['range'];
  /** Whether it marks the places where it worked. */
  readonly mask: boolean;
  readonly label: string;
}

/** The setting of a trial that is looked at. */
export const triedOf = ({ trial, trialId, run }: OpenTrial): Compared => ({
  trialId,
  run,
  range: trial.range,
  mask: trial.runs[run].mask !== null,
  label: runLabel(trial, run),
});
