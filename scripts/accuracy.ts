import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { DEFECT_NAMES, DEFECTS } from '@bevrin/contract';
import { shippedSpecs } from '@bevrin/specs';
import { ACCURACY_CASES } from '../tests/accuracy/cases.js';
import { fieldOutcomes } from '../tests/accuracy/field.js';
import { outcomesOf, type Outcome } from '../tests/accuracy/run.js';
import { confidencePlot, type Surety } from './setup/confidence-plot.js';

/**
 * Measures the whole accuracy set; writes docs/accuracy.md and the table on the page of each measure: `npm run accuracy`.
 * With `--field FOLDER`, measures the clips of that folder instead, which have their truth beside them, and writes their
 * part of docs/accuracy.md.
 */
const BEGIN = '<!-- accuracy -->';
const FIELD = '<!-- field -->';
const PAGE = join('docs', 'accuracy.md');

/** The name of the page of a defect. */
const kebab = (name: string): string => name.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`);

const shown = (value: number | string | boolean | null, unit = ''): string =>
  value === null
    ? 'not measured'
    : typeof value === 'number'
      ? `${Number(value.toPrecision(3))}${unit && ` ${unit}`}`
      : value === true
        ? 'there'
        : value === false
          ? 'not there'
          : value;

const tableOf = (outcomes: readonly Outcome[]): string[] => {
  const kept = outcomes.filter((o) => o.within !== 'neither').length;
  const good = outcomes.filter((o) => o.within === 'goal').length;
  return [
    `Bar kept by ${kept} of ${outcomes.length}, goal by ${good} of ${outcomes.length}.`,
    '',
    '| clip | reading | put in | read | within |',
    '| --- | --- | --- | --- | --- |',
    ...outcomes.map(
      ({ name, check, value, within }) =>
        `| ${name} | ${check.reading} | ${shown(check.truth, check.unit)} | ${shown(value, check.unit)} | ${within === 'neither' ? (check.known ? `**missed**: ${check.known}` : '**missed**') : within} |`,
    ),
  ];
};

/** How often the truth lay inside the 90 % interval, by reading. */
const coverageOf = (outcomes: readonly Outcome[]): string[] => {
  const stated = outcomes.filter((o) => o.inside !== null);
  const readings = [...new Set(stated.map((o) => o.check.reading))].sort();
  return [
    'How often the truth lies inside the 90 % interval that a reading states:',
    '',
    '| reading | inside | of |',
    '| --- | --- | --- |',
    ...readings.map((reading) => {
      const own = stated.filter((o) => o.check.reading === reading);
      return `| ${reading} | ${own.filter((o) => o.inside).length} | ${own.length} |`;
    }),
    `| all | ${stated.filter((o) => o.inside).length} | ${stated.length} |`,
  ];
};

/** Parts into which readings are sorted by their confidence. */
const PARTS = 4;

/** Whether readings that are surer are truer: sorted by confidence, how often each part meets the goal and the bar. */
const byConfidence = (outcomes: readonly Outcome[]): string[] => {
  const sure = outcomes
    .flatMap((o) => (o.confidence === null ? [] : [{ ...o, confidence: o.confidence }]))
    .sort((a, b) => a.confidence - b.confidence);
  const pct = (part: readonly Outcome[], is: (o: Outcome) => boolean): string =>
    `${Math.round((100 * part.filter(is).length) / Math.max(1, part.length))} %`;
  return [
    'Sorted by confidence, from the least sure quarter of the readings to the surest:',
    '',
    '| confidence | bar kept | goal met |',
    '| --- | --- | --- |',
    ...Array.from({ length: PARTS }, (_, k) => {
      const part = sure.slice(
        Math.floor((k * sure.length) / PARTS),
        Math.floor(((k + 1) * sure.length) / PARTS),
      );
      const span = part.length > 0 ? `${part[0].confidence} to ${part[part.length - 1].confidence}` : 'none';
      return `| ${span} | ${pct(part, (o) => o.within !== 'neither')} | ${pct(part, (o) => o.within === 'goal')} |`;
    }),
  ];
};

/** How far a reading is off, in first bars; `null` where it is a word or there is no bar to be off by. */
const suretyOf = ({ value, confidence, check: { truth, bar } }: Outcome): Surety[] =>
  typeof value === 'number' && typeof truth === 'number' && confidence !== null && bar > 0
    ? [{ confidence, error: Math.abs(value - truth) / bar }]
    : [];

/** Draws error over confidence beside the page, and says so on it. */
const plotted = (outcomes: readonly Outcome[], name: string): string[] => {
  const file = `confidence-${name}.svg`;
  writeFileSync(join('docs', file), confidencePlot(outcomes.flatMap(suretyOf), 'Error over confidence'));
  return ['', `![Error of the readings over the confidence that they state](${file})`];
};

/** The page in its two parts: what the rig drew, and what other cameras delivered. */
const parts = (): { rig: string; field: string } => {
  const [rig, field = ''] = (existsSync(PAGE) ? readFileSync(PAGE, 'utf8') : '').split(FIELD);
  return { rig: rig.trim(), field: field.trim() };
};
const writePage = ({ rig, field }: { rig: string; field: string }): void =>
  writeFileSync(PAGE, field ? `${rig}\n\n${FIELD}\n\n${field}\n` : `${rig}\n`);

const measureField = async (folder: string): Promise<void> => {
  if (!existsSync(folder)) {
    console.log(`${folder} is not there: the table of clips from other cameras stays as it is.`);
    return;
  }
  const outcomes = await fieldOutcomes(folder, await shippedSpecs(), (name) => console.log(`field: ${name}`));
  const lines = [
    '# Clips from other cameras',
    '',
    'Generated by `npm run accuracy -- --field FOLDER` from clips made of photographs by another camera model, and from real footage. They are kept outside the repository.',
    '',
    ...tableOf(outcomes),
    '',
    ...coverageOf(outcomes),
    '',
    ...byConfidence(outcomes),
    ...plotted(outcomes, 'field'),
  ];
  writePage({ ...parts(), field: lines.join('\n') });
  const missed = outcomes.filter((o) => o.within === 'neither');
  for (const { name, check, value } of missed)
    console.log(`missed: ${name}: ${check.reading} reads ${shown(value)}, truth ${shown(check.truth)}`);
  console.log(lines[4]);
};

/** The defect that a check is about: figures that have to be worked out belong to the measure of their case. */
const isAbout = (defect: string, { check, measure }: Outcome): boolean =>
  check.reading.includes('.') ? check.reading.startsWith(`${defect}.`) : measure === defect;

const measureRig = async (): Promise<void> => {
  const lines = [
    '# Accuracy',
    '',
    'Generated by `npm run accuracy` from clips that the rig draws. `bar` is the first bar that every reading must keep, `goal` the closer one that we want. The same set is asserted by the tests.',
  ];
  const all: Outcome[] = [];
  for (const defect of DEFECTS) {
    const outcomes: Outcome[] = [];
    for (const one of ACCURACY_CASES.filter((c) => c.measure === defect)) {
      outcomes.push(...(await outcomesOf(one)));
      console.log(`${defect}: ${one.name}`);
    }
    all.push(...outcomes);
    if (outcomes.length > 0) lines.push('', `## ${DEFECT_NAMES[defect]}`, '', ...tableOf(outcomes));
  }
  lines.push(
    '',
    '## Intervals and confidence',
    '',
    ...coverageOf(all),
    '',
    ...byConfidence(all),
    ...plotted(all, 'rig'),
  );
  writePage({ ...parts(), rig: lines.join('\n') });
  for (const defect of DEFECTS) {
    const own = all.filter((outcome) => isAbout(defect, outcome));
    const page = join('docs', 'measures', `${kebab(defect)}.md`);
    const text = readFileSync(page, 'utf8').split(BEGIN)[0].trimEnd();
    writeFileSync(
      page,
      `${text}\n\n${BEGIN}\n\n## Accuracy on the drawn set\n\nWritten by \`npm run accuracy\`.\n\n${tableOf(own).join('\n')}\n`,
    );
  }
};

const { values } = parseArgs({ options: { field: { type: 'string' } } });
await (values.field === undefined ? measureRig() : measureField(values.field));
