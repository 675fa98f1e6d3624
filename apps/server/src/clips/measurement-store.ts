import { and, eq, inArray, sql } from 'drizzle-orm';
import { storedMeasurement, type Measurement, type MeasurementInfo, type Overrides } from '@bevrin/contract';
import { ENGINE_VERSION } from '@bevrin/core';
import type { Database, Transaction } from '../database/connect.js';
import { groupedBy } from '../database/grouped.js';
import { measurements, measurementSeries } from '../database/schema.js';

type Series = readonly (number | null)[];

/** Bytes of one value. */
const WIDE = 8;

/** A series as 64-bit floats one after the other, most significant byte first; NaN for none. */
export const packSeries = (values: Series): Buffer => {
  const packed = Buffer.alloc(WIDE * values.length);
  values.forEach((v, i) => packed.writeDoubleBE(v ?? NaN, WIDE * i));
  return packed;
};

export const unpackSeries = (packed: Buffer): (number | null)[] =>
  Array.from({ length: packed.length / WIDE }, (_, i) => {
    const value = packed.readDoubleBE(WIDE * i);
    return Number.isNaN(value) ? null : value;
  });

/** A measurement that is kept. */
export interface KeptMeasurement {
  readonly info: MeasurementInfo;
  /** What was overruled when it was made. */
  readonly under: Overrides;
  /** In the shape of today; `null` where it can be read no more. */
  readonly measurement: Measurement | null;
}

/** What was measured, row by row; nothing of it is ever changed. Series lie apart and are read by range. */
export class MeasurementStore {
  constructor(private readonly database: Database) {}

  /** @returns the id of the row */
  async add(
    database: Database | Transaction,
    versionId: string,
    measurement: Measurement,
    overrides: Overrides,
  ): Promise<string> {
    const { plain, series } = apart(measurement);
    const [{ id }] = await database
      .insert(measurements)
      .values({ versionId, engine: ENGINE_VERSION, overrides, measurement: plain })
      .returning({ id: measurements.id });
    if (series.length > 0)
      await database
        .insert(measurementSeries)
        .values(series.map((s) => ({ ...s, measurementId: id, packed: packSeries(s.values) })));
    return id;
  }

  /** What was measured, by the ids of its rows. */
  async find(
    ids: readonly (string | null)[],
    database: Database | Transaction = this.database,
  ): Promise<Map<string, KeptMeasurement>> {
    const wanted = [...new Set(ids.filter((id) => id !== null))];
    if (wanted.length === 0) return new Map();
    const rows = await database.select().from(measurements).where(inArray(measurements.id, wanted));
    const series = await database
      .select()
      .from(measurementSeries)
      .where(inArray(measurementSeries.measurementId, wanted));
    const seriesOf = groupedBy(series, (s) => s.measurementId);
    return new Map(
      rows.map(({ measurement, overrides, measuredAt, ...info }) => [
        info.id,
        {
          info: { ...info, measuredAt: measuredAt.toISOString() },
          under: overrides,
          measurement: storedMeasurement(joined(measurement, seriesOf(info.id))),
        },
      ]),
    );
  }

  /** What was overruled when something was measured. */
  async overridesOf(id: string): Promise<Overrides> {
    const [row] = await this.database
      .select({ overrides: measurements.overrides })
      .from(measurements)
      .where(eq(measurements.id, id));
    return row?.overrides ?? {};
  }

  /**
   * Some frames of one series; nothing else is read.
   * @param from the first frame
   * @param count of frames
   * @returns `null` where there is no such series
   */
  async series(
    measurementId: string,
    defect: string,
    name: string,
    from: number,
    count: number,
  ): Promise<(number | null)[] | null> {
    const [row] = await this.database
      .select({
        packed: sql<Buffer>`substring(${measurementSeries.packed} from ${WIDE * from + 1} for ${WIDE * count})`,
      })
      .from(measurementSeries)
      .where(
        and(
          eq(measurementSeries.measurementId, measurementId),
          eq(measurementSeries.defect, defect),
          eq(measurementSeries.name, name),
        ),
      );
    return row ? unpackSeries(row.packed) : null;
  }
}

interface OneSeries {
  readonly defect: string;
  readonly name: string;
  readonly values: Series;
}

/** A measurement without its series, and the series. */
const apart = (measurement: Measurement): { plain: unknown; series: OneSeries[] } => {
  const series: OneSeries[] = [];
  const readings = Object.entries(measurement.readings).map(([defect, reading]) => {
    for (const [name, values] of Object.entries(reading.series as Record<string, Series>))
      series.push({ defect, name, values });
    return [defect, { ...reading, series: {} }];
  });
  return { plain: { ...measurement, readings: Object.fromEntries(readings) as unknown }, series };
};

const joined = (
  plain: unknown,
  series: readonly { defect: string; name: string; packed: Buffer }[],
): unknown => {
  const readings = (plain as { readings?: Record<string, { series?: object }> } | null)?.readings;
  if (!readings) return plain;
  const whole = Object.entries(readings).map(([defect, reading]) => {
    const own = series.filter((s) => s.defect === defect);
    if (own.length === 0) return [defect, reading];
    const values = own.map((s) => [s.name, unpackSeries(s.packed)] as const);
    return [defect, { ...reading, series: { ...reading.series, ...Object.fromEntries(values) } }];
  });
  return { ...(plain as object), readings: Object.fromEntries(whole) as unknown };
};
