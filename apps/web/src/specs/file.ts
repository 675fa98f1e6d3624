import { parse } from 'csv-parse/browser/esm/sync';
import { DeliverySpec, SPEC_COLUMNS } from '@bevrin/contract';

const isYes = (cell: string | undefined): boolean => /^(yes|true|1)$/i.test(cell ?? '');

/** The spec in a file, JSON or a table of limits; or what is wrong with it: which file, which field, what next. */
export const specFromFile = (text: string, name: string): DeliverySpec | string => {
  const plain = name.toLowerCase().endsWith('.csv') ? fromTable(text, name) : fromJson(text, name);
  if (typeof plain === 'string') return plain;
  const parsed = DeliverySpec.safeParse(plain.spec);
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  const [list, row, field] = issue.path;
  const where =
    plain.rows && list === 'limits' && typeof row === 'number'
      ? `line ${row + 2}, ${String(field ?? 'the whole')}`
      : issue.path.join('.') || 'the whole';
  return `${name}: this is not a usable delivery spec: ${where}: ${issue.message}. Correct the file.`;
};

const fromJson = (text: string, name: string): { spec: unknown; rows: false } | string => {
  try {
    return { spec: JSON.parse(text) as unknown, rows: false };
  } catch {
    return `${name}: this is not JSON. Export a spec to see what one looks like, and correct the file.`;
  }
};

/** A table holds limits only: the spec is named after its file, and asks for no facts. */
const fromTable = (text: string, name: string): { spec: unknown; rows: true } | string => {
  let rows: Record<string, string>[];
  try {
    rows = parse(text, { columns: true, bom: true, skip_empty_lines: true, trim: true });
  } catch (error) {
    return `${name}: this is not a table of comma-separated values (${(error as Error).message}). Correct the file.`;
  }
  const missing = SPEC_COLUMNS.slice(0, 5).filter((c) => rows[0]?.[c] === undefined);
  if (missing.length > 0)
    return `${name}: the table lacks the ${missing.length === 1 ? 'column' : 'columns'} ${missing.join(', ')}. Export a spec as a table to see what one looks like.`;
  const title = name.replace(/\.csv$/i, '');
  const figure = (cell: string | undefined): number | undefined =>
    cell === undefined || cell === '' ? undefined : Number(cell);
  return {
    rows: true,
    spec: {
      schema: 'bevrin.spec/1',
      id:
        title
          .toLowerCase()
          .replaceAll(/[^a-z0-9]+/g, '-')
          .replaceAll(/^-|-$/g, '') || 'spec',
      name: title,
      version: 1,
      description: `Taken from ${name}.`,
      requires: {},
      limits: rows.map((row) => ({
        defect: row.defect,
        reading: row.reading,
        unit: row.unit,
        pass: figure(row.pass),
        fail: figure(row.fail),
        weight: figure(row.weight) ?? 1,
        passesUnseen: isYes(row.passesUnseen),
        marginalAtMost: isYes(row.marginalAtMost),
        leastFrames: figure(row.leastFrames) ?? 0,
        leastAreaPct: figure(row.leastAreaPct) ?? 0,
      })),
    },
  };
};
