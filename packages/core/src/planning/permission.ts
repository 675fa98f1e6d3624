import type { DecidedPlan, Decision, Finding, Measurement } from '#document';
import { whyUnusable } from '../overrides/check-overrides.js';
import { stepByHand } from './decide.js';

/** Who asks for something. Today a name that was given; whatever else is known of a person comes here. */
export interface Actor {
  readonly name: string;
}

/** What a decision is made on. */
export interface DecidedClip {
  readonly measurement: Measurement;
  readonly findings: readonly Finding[];
  /** The plan as it stands. */
  readonly plan: DecidedPlan;
}

/** Why a decision cannot be made: nobody stands behind it, the plan is frozen, or it means nothing on this clip. */
export interface Refusal {
  readonly kind: 'nobody' | 'frozen' | 'meaningless';
  /** What is wrong and what to do, as a sentence that a clip's name may precede. */
  readonly because: string;
}

/**
 * Whether an actor may make a decision on a clip as it stands. Everything that allows or forbids is here.
 * @returns `null` where it is allowed
 */
export const whyRefused = (
  { name }: Actor,
  decision: Decision,
  { measurement, findings, plan: { approved } }: DecidedClip,
): Refusal | null => {
  if (name.trim() === '') return { kind: 'nobody', because: 'nobody stands behind this. Say who decides.' };
  if (approved && decision.kind !== 'reopen' && decision.kind !== 'frameNote')
    return {
      kind: 'frozen',
      because: `${approved.who} approved this plan, and it is frozen. Open it again to change it.`,
    };
  const because = whyMeaningless(decision, measurement, findings);
  return because === null ? null : { kind: 'meaningless', because };
};

const whyMeaningless = (
  decision: Decision,
  measurement: Measurement,
  findings: readonly Finding[],
): string | null => {
  if (decision.kind === 'add' && !stepByHand(decision.treatment, findings, measurement))
    return 'there is nothing for this treatment to do: what it mends was not measured on this clip.';
  if (decision.kind === 'overrule') return whyUnusable(decision.overrides, measurement.clip);
  if (decision.kind === 'frameNote' && decision.frame >= measurement.clip.frames)
    return `there is no frame ${decision.frame}. Choose an earlier one.`;
  return null;
};
