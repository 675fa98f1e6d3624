import type { TreatmentName } from '#document';
import { reduceNoise } from './reduce-noise.js';
import type { Runner } from './runner.js';

/** The treatments that run, by name. */
export const RUNNERS: Partial<Record<TreatmentName, Runner>> = { reduceNoise };
