import {
  HarmValues,
  isOfReading,
  sweptSettings,
  type Finding,
  type Measurement,
  type ReadingChange,
  type Step,
  type Subject,
  type Sweep,
  type TreatmentName,
  type TrialRun,
} from '#document';
import type { Harm } from '../harm/harm.js';
import type { PixelFault } from '../measures/hot-pixels/faulty-pixels/values.js';
import { rounded } from '../maths/round.js';
import { TREATMENTS_IN_ORDER } from '../planning/treatments.js';
import { RUNNERS } from '../treatments/runners.js';
import type { Runner } from '../treatments/runner.js';

/** A treatment that is asked for and cannot be run. */
export class TreatmentUnusable extends Error {}

/**
 * The treatment that runs under a name.
 * @throws {TreatmentUnusable} naming those that run
 */
export const runnerOf = (name: string): Runner => {
  const runner = RUNNERS[name as TreatmentName];
  if (runner) return runner;
  const known = TREATMENTS_IN_ORDER.some(({ treatment }) => treatment === name);
  throw new TreatmentUnusable(
    `${known ? `${name} cannot be tried yet` : `There is no treatment ${name}`}: ${Object.keys(RUNNERS).join(', ')} can.`,
  );
};

/** Settings that a trial compares: the step's own, with the swept one at each of its values. */
export const sweepOf = (
  runner: Runner,
  settings: Step['settings'],
  sweep: Sweep | null,
): Step['settings'][] => {
  if (sweep) return sweptSettings(settings, sweep);
  const value = settings[runner.swept];
  if (typeof value !== 'number') return [settings];
  const schema = runner.settings[runner.swept];
  const inside = (each: number): number =>
    schema.kind === 'number' ? Math.max(schema.least, Math.min(schema.most, each)) : each;
  const about = runner.sweepAbout(value);
  const values = [...new Set((about.length > 0 ? about : [value]).map(inside))];
  return values.map((each) => ({ ...settings, [runner.swept]: each }));
};

/** What a treatment is about. */
export const defectOf = (treatment: TreatmentName): Subject =>
  TREATMENTS_IN_ORDER.find((t) => t.treatment === treatment)!.defect;

/** Whether a finding is about what a treatment mends. */
export const isMendedBy = (
  treatment: TreatmentName,
  { defect, reading }: Pick<Finding, 'defect' | 'reading'>,
): boolean => {
  const known = TREATMENTS_IN_ORDER.find((t) => t.treatment === treatment);
  return known !== undefined && known.defect === defect && (known.readings?.includes(reading) ?? true);
};

/** Readings before and after, of the findings that both have a value for. */
export const changesBetween = (before: readonly Finding[], after: readonly Finding[]): ReadingChange[] =>
  before.flatMap((was) => {
    const { defect, reading, unit, value } = was;
    const then = after.find(isOfReading(was));
    return value === null || then === undefined || then.value === null
      ? []
      : [{ defect, reading, unit, from: value, to: then.value }];
  });

/** Findings that the clip has a value for and runs are about, but that not every one of them has before and after. */
export const untoldBy = (
  runs: readonly Pick<TrialRun, 'steps' | 'gain'>[],
  clip: readonly Finding[],
): Finding[] =>
  clip.filter(
    (finding) =>
      finding.value !== null &&
      runs.some(
        ({ steps, gain }) =>
          steps.some(({ treatment }) => isMendedBy(treatment, finding)) && !gain.some(isOfReading(finding)),
      ),
  );

/** Where nothing is known of the uncertainty of a reading, this share of it and of its pass limit is none. */
const WITHIN = 0.15;

/** Readings that got worse beyond what both could be by their own uncertainty. */
export const worseThan = (before: readonly Finding[], after: readonly Finding[]): ReadingChange[] =>
  changesBetween(before, after).filter((change) => {
    const { from, to } = change;
    const find = (all: readonly Finding[]): Finding => all.find(isOfReading(change))!;
    const [was, is] = [find(before), find(after)];
    if (was.interval && is.interval && to > from) return is.interval.low > was.interval.high;
    return to > from + WITHIN * (Math.abs(from) + was.pass);
  });

/** Faults of the sensor that were found, luma pixels of the clip. */
export const faultsIn = ({
  readings: { hotPixels },
}: Pick<Measurement, 'readings'>): readonly PixelFault[] =>
  hotPixels.state === 'measured' ? hotPixels.values.pixels : [];

/** Decimal places of a figure of harm. */
const DIGITS = 3;

/** The figures of harm, why those that are not there are not, and where the others are worst. */
export const harmValues = (harm: Harm): Pick<TrialRun, 'harm' | 'notMeasurable' | 'worstAt'> => {
  const notMeasurable: TrialRun['notMeasurable'] = {};
  const worstAt: TrialRun['worstAt'] = {};
  const values = Object.fromEntries(
    Object.entries(harm).map(([name, figure]) => {
      if (figure.value === null) notMeasurable[name] = figure.reason;
      else if (figure.worst) worstAt[name] = figure.worst;
      return [name, figure.value === null ? null : rounded(figure.value, DIGITS)];
    }),
  );
  return { harm: HarmValues.parse(values), notMeasurable, worstAt };
};
