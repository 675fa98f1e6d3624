import {
  amount,
  DEFECT_NAMES,
  DEFECTS,
  findingName,
  SUBJECT_NAMES,
  TREATMENT_NAMES,
  type Finding,
  type MeasureDocument,
} from '@bevrin/contract';

/** The longest name of a finding, and a gap. */
const NAME_WIDE = 32;

const findingLine = (finding: Finding): string => {
  const { value, unit, severity, verdict } = finding;
  const name = findingName(finding).padEnd(NAME_WIDE);
  return value === null
    ? `${name}could not be told`
    : `${name}${amount(value, unit).padEnd(12)}severity ${String(severity).padStart(3)}  ${verdict}`;
};

/** The document as a table for people. */
export const asTable = (document: MeasureDocument): string => {
  const { clip, readings, findings, plan, spec, verdict } = document;
  const lines = [
    `${clip.file}   ${clip.width}×${clip.height}  ${clip.frameRate} fps  ${clip.codec}  ${clip.bitDepth} bit  ${clip.frames} frames`,
    ...(clip.assumed.length > 0
      ? [`assumed, because the stream does not say: ${clip.assumed.join(', ')}`]
      : []),
    '',
  ];
  for (const defect of DEFECTS) {
    const reading = readings[defect];
    const judged = findings.filter((f) => f.defect === defect);
    const name = DEFECT_NAMES[defect].padEnd(NAME_WIDE);
    if (reading.state === 'notMeasurable') lines.push(`${name}not measurable: ${reading.reason}`);
    else if (judged.length === 0) lines.push(`${name}measured, not judged by this spec`);
    else lines.push(...judged.map(findingLine));
  }
  for (const f of findings.filter((f) => f.verdict !== 'pass' && f.defect === 'conform'))
    lines.push(`${SUBJECT_NAMES.conform.padEnd(NAME_WIDE)}${f.because}`);
  lines.push('', `verdict under ${spec.name}, version ${spec.version}: ${verdict}`);
  for (const step of plan.steps)
    lines.push(
      `  ${step.order}. ${TREATMENT_NAMES[step.treatment]} (priority ${step.priority}): ${amount(step.expect.from, step.expect.unit)} to ${amount(step.expect.to, step.expect.unit)}. ${step.because}`,
    );
  for (const { defect, instead, because } of plan.notRepairable)
    lines.push(`  ${SUBJECT_NAMES[defect]} cannot be repaired, ${instead}: ${because}`);
  return lines.join('\n');
};
