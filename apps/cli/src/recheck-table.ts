import { findingName, HARM_NAMES, RECHECK_VERDICT_NAMES, type Recheck } from '@bevrin/contract';

const shown = (value: number | null): string => (value === null ? '–' : String(Number(value.toPrecision(3))));

/** A recheck for people: where it lies, what each reading came to, what was harmed, and the verdict with its reasons. */
export const asRecheckTable = (recheck: Recheck): string => {
  const { original, repaired, spec, alignment, readings, harmJudged, verdict, because } = recheck;
  const lines = [`${repaired}, against ${original}`];
  if (alignment) {
    const { frameOffset, cropPct, scale, rotationDeg, steadied, levelShiftPct } = alignment;
    lines.push(
      `begins with frame ${frameOffset} of the original; scale ${scale}, ${cropPct} % cropped, turned by ${rotationDeg}°${steadied ? ', steadied' : ''}; level ${levelShiftPct} %`,
      '',
      `${''.padEnd(30)}${'before'.padStart(10)}${'after'.padStart(10)}${'expected'.padStart(10)}${'limit'.padStart(10)}`,
    );
  }
  for (const r of readings)
    lines.push(
      `${findingName(r).padEnd(30)}${shown(r.before).padStart(10)}${shown(r.after).padStart(10)}${shown(r.expected).padStart(10)}${shown(r.pass).padStart(10)} ${r.unit.padEnd(8)}${r.verdictBefore} → ${r.verdictAfter}`,
    );
  if (harmJudged.length > 0) lines.push('');
  for (const h of harmJudged) {
    const [, words = h.name, unit = ''] = HARM_NAMES.find(([name]) => name === h.name) ?? [];
    lines.push(
      `${words.padEnd(40)}${shown(h.value).padStart(10)}${''.padStart(10)}${shown(h.pass).padStart(10)} ${unit.padEnd(8)}${h.verdict === 'incomplete' ? 'could not be told' : h.verdict}`,
    );
  }
  return [
    ...lines,
    '',
    `under ${spec.name}, version ${spec.version}: ${RECHECK_VERDICT_NAMES[verdict]}`,
    ...because.map((why) => `  ${why}`),
  ].join('\n');
};
