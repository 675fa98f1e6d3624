import { z } from 'zod';
import { Defect, descriptorOf } from './defects.js';
import { Rational } from '../terms/index.js';
import { HarmLimit, USUAL_HARM_LIMITS } from './gain-and-harm.js';
import { NeighbourLimit, USUAL_NEIGHBOUR_LIMITS } from './neighbours.js';

/** The readings of a defect that a spec may judge: those for which less is better. */
export const readingsForLimits = (defect: Defect): string[] =>
  Object.entries(descriptorOf(defect).figures).flatMap(([name, { finding }]) => (finding ? [name] : []));

interface Named {
  readonly defect: Defect;
  readonly reading: string;
}

const mayBeJudged = ({ defect, reading }: Named): boolean => readingsForLimits(defect).includes(reading);

const whyNotJudged = ({ defect, reading }: Named): string =>
  `${defect} has no reading "${reading}" that a spec may judge; choose one of ${readingsForLimits(defect).join(', ')}`;

/** One row of a delivery spec: which reading is judged, and where it passes and fails. */
export const Limit = z
  .strictObject({
    defect: Defect,
    reading: z.string().min(1),
    unit: z.string(),
    /** At or below this the reading passes. */
    pass: z.number().nonnegative(),
    /** Above this the reading fails; between the two it is marginal. */
    fail: z.number().positive(),
    weight: z.number().positive().max(10),
    /** Whether a clip on which this defect cannot show passes all the same, with the reason: read-out where nothing moves. */
    passesUnseen: z.boolean().default(false),
    /** Whether it is never worse than marginal, however large: what a person has to look at before it is sent back. */
    marginalAtMost: z.boolean().default(false),
    /** A defect that shows in fewer frames, or on less of the picture (%), does not count. */
    leastFrames: z.int().nonnegative().default(0),
    leastAreaPct: z.number().min(0).max(100).default(0),
  })
  .refine((limit) => limit.fail > limit.pass, { message: 'fail must be larger than pass', path: ['fail'] })
  .refine(mayBeJudged, {
    error: ({ input }) => whyNotJudged(input as Named),
    path: ['reading'],
  });
export type Limit = z.infer<typeof Limit>;

/** Facts that the delivery asks for; what is left out may be anything. */
export const RequiredFacts = z.strictObject({
  width: z.int().positive().optional(),
  height: z.int().positive().optional(),
  frameRates: z.array(Rational).min(1).optional(),
  constantFrameRate: z.boolean().optional(),
  scan: z.enum(['progressive', 'interlaced']).optional(),
  leastBitDepth: z.int().positive().optional(),
  range: z.enum(['limited', 'full']).optional(),
  /** Detail over delivered size, 0–1: less is a blown-up picture. */
  leastScale: z.number().positive().max(1).optional(),
  /** Repeated frames, % of all. */
  mostRepeatedPct: z.number().nonnegative().optional(),
  /** Frames that were lost on the way, at most. */
  mostLost: z.int().nonnegative().optional(),
  /** Block edges over what lies between them: 1 is none. */
  mostBlocky: z.number().positive().optional(),
});
export type RequiredFacts = z.infer<typeof RequiredFacts>;

/** What a delivery asks for: limits for readings, and facts of the file. */
export const DeliverySpec = z.strictObject({
  schema: z.literal('bevrin.spec/1'),
  id: z.string().regex(/^[a-z0-9-]+$/),
  name: z.string().min(1),
  version: z.int().positive(),
  description: z.string(),
  limits: z.array(Limit).min(1),
  requires: RequiredFacts.default({}),
  /** What a repair may cost; what is left out may be anything. */
  harm: z.array(HarmLimit).default([...USUAL_HARM_LIMITS]),
  /** How far a clip may differ from the others of its roll; what is left out may be anything. */
  beside: z.array(NeighbourLimit).default([...USUAL_NEIGHBOUR_LIMITS]),
});
export type DeliverySpec = z.infer<typeof DeliverySpec>;

/** A spec as it is read today: where an earlier version says nothing of harm or of neighbours, the usual limits hold. */
export const storedSpec = ({
  harm = [...USUAL_HARM_LIMITS],
  beside = [...USUAL_NEIGHBOUR_LIMITS],
  ...spec
}: Omit<DeliverySpec, 'harm' | 'beside'> & Partial<DeliverySpec>): DeliverySpec => ({
  ...spec,
  harm,
  beside,
});

/** A version as it was saved. */
export const SpecVersion = z.strictObject({ spec: DeliverySpec, savedAt: z.iso.datetime() });
export type SpecVersion = z.infer<typeof SpecVersion>;

/** Saves a spec as the next version: of the one that it replaces, or the first of an id that is new. */
export const SaveSpec = z.strictObject({
  spec: DeliverySpec,
  replaces: z.int().positive().nullable(),
});
export type SaveSpec = z.infer<typeof SaveSpec>;

/** Columns of a spec as a table: one limit a row. */
export const SPEC_COLUMNS = [
  'defect',
  'reading',
  'unit',
  'pass',
  'fail',
  'weight',
  'passesUnseen',
  'marginalAtMost',
  'leastFrames',
  'leastAreaPct',
] as const satisfies readonly (keyof Limit)[];
