import { getTableColumns } from 'drizzle-orm';
import {
  figureAt,
  stageOf,
  type Along,
  type Clip,
  type DeliverySpec,
  type Judgement,
  type Measurement,
  type MeasurementInfo,
  type Summary,
  type Version,
} from '@bevrin/contract';
import { scoreMeasurement, standingOf, summaryOf } from '@bevrin/core';
import { clips, type ClipColumns, type DecisionRow, type VersionRow } from '../database/schema.js';

/** A clip with the version that is looked at. */
export type ClipRow = ClipColumns & { readonly version: VersionRow };
/** And with what was measured of it. */
export type MeasuredRow = ClipRow & {
  readonly measurement: Measurement | null;
  readonly machine: Measurement | null;
  /** How it was measured. */
  readonly measured: MeasurementInfo | null;
};

export type ListedRow = Omit<ClipColumns, 'judgement' | 'overrides'> & { readonly version: VersionRow };

const { judgement: _1, overrides: _2, ...listed } = getTableColumns(clips);
/** The columns of a clip that lists show. */
export { listed };

/** A clip as the pages know it. */
export const toClip = (
  row: ListedRow,
  made: readonly DecisionRow[] = [],
  returned: Along['returned'] = null,
): Clip => {
  const { id, batchId, name, state, progress, error, note, specId, summary, truth } = row;
  const { facts, poster, proxy, contentHash } = row.version;
  const standing = summary && standingOf(summary.findings, made);
  return {
    id,
    batchId,
    name,
    state,
    progress,
    error,
    facts,
    note,
    specId,
    poster,
    proxy,
    content: contentHash,
    summary,
    standing,
    stage: stageOf({
      measured: standing !== null,
      planned: (summary?.steps ?? 0) > 0,
      approved: standing?.approved ?? false,
      assignee: standing?.assignee ?? '',
      waived:
        standing?.verdict === 'pass' &&
        (summary?.findings ?? []).some((f) => f.verdict === 'fail' || f.verdict === 'marginal'),
      returned,
    }),
    drawn: truth.length > 0,
  };
};

/** A version as the pages know it. */
export const toVersion = ({
  id,
  number,
  kind,
  madeFrom,
  size,
  contentHash,
  createdAt,
}: VersionRow): Version => ({
  id,
  number,
  kind,
  madeFrom,
  size,
  contentHash,
  createdAt: createdAt.toISOString(),
});

/** A judgement with what lists show of it, as they are stored. */
export const judgedUnder = (
  measurement: Measurement,
  spec: DeliverySpec,
): { judgement: Judgement; summary: Summary } => {
  const judgement = scoreMeasurement(measurement, spec);
  return { judgement, summary: summaryOf(measurement, judgement) };
};

/** A number of a measurement by its path, such as `noise.lumaPct`. */
export const numberAt = ({ readings }: Measurement, path: string): number | null => {
  const value = figureAt(readings, path);
  return typeof value === 'number' ? value : null;
};
