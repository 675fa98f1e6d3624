import { stringify } from 'csv-stringify/sync';

/** Comma-separated, a header row, lines that end as RFC 4180 asks. */
export const csv = (
  rows: readonly Record<string, string | number | null>[],
  columns: readonly string[],
): string =>
  stringify([...rows], {
    header: true,
    columns: [...columns],
    record_delimiter: 'windows',
    escape_formulas: true,
  });
