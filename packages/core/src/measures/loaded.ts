import type { Defect } from '#document';
import { DESCRIPTORS } from './all.js';
import type { AnyDescriptor } from './descriptor.js';
import type { Measure } from './measure.js';

/** A measure with what is known of its defect. */
export interface LoadedMeasure {
  readonly descriptor: AnyDescriptor & { readonly defect: Defect };
  readonly measure: Measure;
}

/** The measures that are asked for, ready to run; every one where nobody says which. Who only reads documents does without. */
export const loadMeasures = (only?: readonly Defect[]): Promise<LoadedMeasure[]> =>
  Promise.all(
    DESCRIPTORS.filter(({ defect }) => only?.includes(defect) ?? true).map(async (descriptor) => ({
      descriptor,
      measure: await descriptor.load(),
    })),
  );
