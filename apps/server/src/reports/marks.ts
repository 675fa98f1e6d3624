import { isExpected, isOfReading, SUBJECT_NAMES, TREATMENT_NAMES, type ReportClip } from '@bevrin/contract';

/** Something on a clip that a repair artist must see: where it is, and what to do about it. */
export interface Mark {
  readonly startFrame: number;
  /** Inclusive. */
  readonly endFrame: number;
  readonly name: string;
  /** A note is neither good nor bad. */
  readonly verdict: 'marginal' | 'fail' | 'incomplete' | 'note';
  readonly text: string;
}

/** A mark for each finding that counts, with the steps that mend it, and one for each note on a frame. */
export const marksOf = (report: ReportClip): Mark[] => [...findingMarks(report), ...noteMarks(report)];

const noteMarks = ({ frameNotes }: ReportClip): Mark[] =>
  frameNotes.map(({ frame, text, who }) => ({
    startFrame: frame,
    endFrame: frame,
    name: `Note by ${who}`,
    verdict: 'note',
    text,
  }));

const findingMarks = ({ findings, plan }: ReportClip): Mark[] =>
  findings.flatMap((f): Mark[] => {
    const aside = [...plan.waived, ...plan.disputed].some(isOfReading(f));
    if (f.verdict === 'pass' || aside) return [];
    const steps = plan.steps.filter((s) => isExpected(s, f));
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
