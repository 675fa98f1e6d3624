import type { Defect } from '#document';
import { DESCRIPTORS } from './all.js';
import type { AnyDescriptor } from './descriptor.js';
import type { Measure } from './measure.js';

/** A measure with what is known of its defect. */
export interface LoadedMeasure {
  readonly descriptor: AnyDescriptor & { readonly defect: Defect };
  readonly measure: Measure;
}

/** Every measure, ready to run. Who only reads documents does without them. */
export const MEASURES: readonly LoadedMeasure[] = await Promise.all(
  DESCRIPTORS.map(async (descriptor) => ({ descriptor, measure: await descriptor.load() })),
);
