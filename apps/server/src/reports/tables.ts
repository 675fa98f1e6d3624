import {
  isOfReading,
  passedUnseen,
  SPEC_COLUMNS,
  SUBJECT_NAMES,
  TREATMENT_NAMES,
  type DeliverySpec,
  type Report,
} from '@bevrin/contract';
import { csv } from './csv.js';

const FINDING_COLUMNS = [
  'batch',
  'clip',
  'spec',
  'spec version',
  'defect',
  'reading',
  'value',
  'unit',
  'pass',
  'fail',
  'severity',
  'verdict',
  'waived because',
  'first frame',
  'last frame',
  'share of time %',
  'share of picture %',
  'because',
] as const;

/** A row for each finding of each clip. */
export const findingsCsv = ({ batch, clips }: Report): string =>
  csv(
    clips.flatMap(({ clip, spec, findings, plan, beside }) => [
      ...findings.map((f) => ({
        batch,
        clip: clip.file,
        spec: spec.name,
        'spec version': spec.version,
        defect: SUBJECT_NAMES[f.defect],
        reading: f.reading,
        value: f.value,
        unit: f.unit,
        pass: f.pass,
        fail: f.fail,
        severity: f.severity,
        // A reading that said nothing is not within its limits.
        verdict: passedUnseen(f) ? 'not told' : f.verdict,
        'waived because': plan.waived.find(isOfReading(f))?.reason ?? '',
        'first frame': f.startFrame,
        'last frame': f.endFrame,
        'share of time %': f.sharePct,
        'share of picture %': f.areaPct,
        because: f.because,
      })),
      // A row of its own for each way in which it differs from the others of its roll.
      ...beside.map((b) => ({
        batch,
        clip: clip.file,
        spec: spec.name,
        'spec version': spec.version,
        defect: `beside ${b.roll}`,
        reading: b.name,
        value: b.value,
        unit: b.unit,
        pass: b.pass,
        fail: b.fail,
        verdict: b.verdict,
        because: `${b.because} ${b.match.words}`,
      })),
    ]),
    FINDING_COLUMNS,
  );

const STEP_COLUMNS = [
  'batch',
  'clip',
  'order',
  'priority',
  'treatment',
  'settings',
  'first frame',
  'last frame',
  'reading',
  'from',
  'to',
  'unit',
  'render weight',
  'artist minutes',
  'crop %',
  'confidence %',
  'tried',
  'fine detail kept %',
  'assignee',
  'approved by',
  'note',
  'risks',
  'check',
  'if it fails',
] as const;

/** A row for each step of each plan, in the order of work. */
export const stepsCsv = ({ batch, clips }: Report): string =>
  csv(
    clips.flatMap(({ clip, plan }) =>
      plan.steps.map((s) => ({
        batch,
        clip: clip.file,
        order: s.order,
        priority: s.priority,
        treatment: TREATMENT_NAMES[s.treatment],
        settings: JSON.stringify(s.settings),
        'first frame': s.where.startFrame,
        'last frame': s.where.endFrame,
        reading: s.expect.reading,
        from: s.expect.from,
        to: s.expect.to,
        unit: s.expect.unit,
        'render weight': s.cost.renderWeight,
        'artist minutes': s.cost.artistMinutes,
        'crop %': s.cost.cropPct,
        'confidence %': Math.round(100 * s.confidence),
        tried: s.tried
          ? `frames ${s.tried.range.startFrame} to ${s.tried.range.endFrame}: ${s.tried.because}`
          : '',
        'fine detail kept %': s.tried?.harm?.detailKeptPct ?? '',
        assignee: plan.assignee,
        'approved by': plan.approved?.who ?? '',
        note: s.note,
        risks: s.risks.join(' '),
        check: s.check.join(' '),
        'if it fails': s.fallback.join(' '),
      })),
    ),
    STEP_COLUMNS,
  );

const yesNo = (is: boolean): string => (is ? 'yes' : 'no');

/** The limits of a spec, a row each; it reads back through the page of the specs. */
export const specCsv = ({ limits }: DeliverySpec): string =>
  csv(
    limits.map((l) => ({
      ...l,
      passesUnseen: yesNo(l.passesUnseen),
      marginalAtMost: yesNo(l.marginalAtMost),
    })),
    SPEC_COLUMNS,
  );
