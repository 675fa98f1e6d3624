import type { Finding, Measurement, Step, Subject } from '@bevrin/contract';

/** What a treatment says about one finding; order and priority are given by the plan. */
export type Proposal = Pick<Step, 'settings' | 'expect' | 'risks' | 'check' | 'cost' | 'because'> & {
  /** Chance that it brings the reading to its pass limit, 0–1. */
  readonly chance: number;
};

export interface Treatment {
  readonly treatment: Step['treatment'];
  readonly defect: Subject;
  /** The readings of the defect that it repairs; every one where none is named. */
  readonly readings?: readonly string[];
  /** Why it stands where it stands in the order of work. */
  readonly precedes: string;
  propose(finding: Finding & { value: number }, measurement: Measurement): Proposal | null;
}

export const round = (v: number, digits = 2): number => Number(v.toFixed(digits));

/** What a finding is expected to come to. */
export const expecting = (finding: Finding & { value: number }, to: number): Step['expect'] => ({
  reading: finding.reading,
  unit: finding.unit,
  from: finding.value,
  to: round(Math.min(to, finding.value), 3),
});
