import type { Finding, Measurement, NotRepairable, Step, Subject } from '#document';
import { rounded } from '../maths/round.js';

/** A finding that has a value, as the steps before leave it, and what it shall be brought to, in its own unit. */
export type Task = Finding & { readonly value: number; readonly target: number };

/** What a treatment says about one finding; order and priority are given by the plan. */
export type Proposal = Pick<
  Step,
  'settings' | 'expect' | 'risks' | 'check' | 'fallback' | 'cost' | 'because'
> & {
  /** Chance that it brings the reading to what is expected, 0–1. */
  readonly chance: number;
  /** Share of what it is worth to mend the finding that is this step's, 0–1; all of it where it is not said. */
  readonly worth?: number;
  /** Where it works, if not where the finding lies. */
  readonly where?: Partial<Step['where']>;
};

/** A finding that the treatment cannot mend, with the reason in figures. */
export type Hopeless = Pick<NotRepairable, 'instead' | 'because'>;

/** Whether a treatment says that it cannot mend the finding. */
export const isHopeless = (answer: Proposal | Hopeless): answer is Hopeless => 'instead' in answer;

/** What is known of one treatment: when it is proposed, with which settings, and what is expected of it. */
export interface Treatment {
  readonly treatment: Step['treatment'];
  readonly defect: Subject;
  /** The readings of the defect that it repairs; every one where none is named. */
  readonly readings?: readonly string[];
  /** The step without which it has nothing to do. */
  readonly needs?: Step['treatment'];
  /** Why it stands where it stands in the order of work. */
  readonly precedes: string;
  /** What settings that a person changed are expected to bring, and to cost; left out where none of them changes it. */
  revise?(
    settings: Step['settings'],
    task: Task,
    measurement: Measurement,
  ): Pick<Proposal, 'expect' | 'cost'> | null;
  /** @returns `null` where there is nothing for it to do */
  propose(task: Task, measurement: Measurement): Proposal | Hopeless | null;
  /** What a person may want of it where it is not proposed; the same where it is not said. */
  byHand?(task: Task, measurement: Measurement): Proposal | null;
}

/** A figure of a plan. */
export const round = (v: number, digits = 2): number => rounded(v, digits);

/** A setting as a number that is not below nothing; `otherwise` where it is none. */
export const numberIn = (settings: Step['settings'], name: string, otherwise: number): number => {
  const value = Number(settings[name]);
  return Number.isFinite(value) && value >= 0 ? value : otherwise;
};

/** What a finding is expected to come to: never worse than it is. */
export const expecting = (task: Task, to: number): Step['expect'] => comingTo(task, Math.min(to, task.value));

/** What a finding is expected to come to, better or worse. */
export const comingTo = ({ reading, unit, value }: Task, to: number): Step['expect'] => ({
  reading,
  unit,
  from: value,
  to: round(to, 3),
});
