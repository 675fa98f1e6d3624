import { z } from 'zod';
import { DESCRIPTORS } from '../measures/all.js';
import type { AnyDescriptor } from '../measures/descriptor.js';

type Listed = (typeof DESCRIPTORS)[number];

/** A defect that is measured. */
export type Defect = Listed['defect'];

/** The defects, in the order in which every page and document lists them. */
export const DEFECTS = DESCRIPTORS.map((d) => d.defect) as [Defect, ...Defect[]];
/** The schema of the name of a defect. */
export const Defect = z.enum(DEFECTS);

const byDefect = Object.fromEntries(DESCRIPTORS.map((d) => [d.defect, d])) as Record<Defect, AnyDescriptor>;

/** All that is known about a defect besides how it is measured. */
export const descriptorOf = (defect: Defect): AnyDescriptor => byDefect[defect];

const named = (key: 'name' | 'shortName'): Record<Defect, string> =>
  Object.fromEntries(DESCRIPTORS.map((d) => [d.defect, d[key]])) as Record<Defect, string>;

/** What people call each defect. */
export const DEFECT_NAMES = named('name');
/** Short enough to stand over a narrow column. */
export const DEFECT_SHORT_NAMES = named('shortName');

/** What a finding can be about: a defect, or how the file meets the facts that the delivery asks for. */
export const SUBJECTS = [...DEFECTS, 'conform'] as [Subject, ...Subject[]];
export type Subject = Defect | 'conform';
/** The schema of what a finding can be about. */
export const Subject = z.enum(SUBJECTS);
/** What people call each thing that a finding can be about. */
export const SUBJECT_NAMES: Record<Subject, string> = { ...DEFECT_NAMES, conform: 'Conform' };

/** What a clip or a finding can be judged to be; `incomplete` was asked for and could not be measured. */
export const VERDICTS = ['pass', 'marginal', 'fail', 'incomplete'] as const;
/** The schema of a verdict. */
export const Verdict = z.enum(VERDICTS);
export type Verdict = z.infer<typeof Verdict>;
