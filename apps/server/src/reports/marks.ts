import { SUBJECT_NAMES, TREATMENT_NAMES, type ReportClip } from '@bevrin/contract';

/** Something on a clip that a repair artist must see: where it is, and what to do about it. */
export interface Mark {
  readonly startFrame: number;
  /** Inclusive. */
  readonly endFrame: number;
  readonly name: string;
  readonly verdict: 'marginal' | 'fail' | 'incomplete';
  readonly text: string;
}

/** A mark for each finding that does not pass and was not waived, with the steps that mend it. */
export const marksOf = ({ findings, plan }: ReportClip): Mark[] =>
  findings.flatMap((f) => {
    const waived = plan.waived.some((w) => w.defect === f.defect && w.reading === f.reading);
    if (f.verdict === 'pass' || waived) return [];
    const steps = plan.steps.filter((s) => s.defect === f.defect && s.expect.reading === f.reading);
    return [
      {
        startFrame: f.startFrame,
        endFrame: f.endFrame,
        name: `${SUBJECT_NAMES[f.defect]}: ${f.verdict}${f.value === null ? '' : `, severity ${f.severity}`}`,
        verdict: f.verdict,
        text: [f.because, ...steps.map((s) => `Step ${s.order}: ${TREATMENT_NAMES[s.treatment]}.`)].join(' '),
      },
    ];
  });
