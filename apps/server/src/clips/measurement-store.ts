import { and, eq, inArray, sql } from 'drizzle-orm';
import { storedMeasurement, type Measurement, type MeasurementInfo, type Overrides } from '@bevrin/contract';
import { ENGINE_VERSION } from '@bevrin/core';
import type { Database, Transaction } from '../database/connect.js';
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

  /** Measurements by their ids, in the shape of today; one that can be read no more is left out. */
  async find(ids: readonly (string | null)[]): Promise<Map<string, Measurement>> {
    const wanted = [...new Set(ids.filter((id) => id !== null))];
    const found = new Map<string, Measurement>();
    if (wanted.length === 0) return found;
    const [rows, series] = await Promise.all([
      this.database
        .select({ id: measurements.id, measurement: measurements.measurement })
        .from(measurements)
        .where(inArray(measurements.id, wanted)),
      this.database.select().from(measurementSeries).where(inArray(measurementSeries.measurementId, wanted)),
    ]);
    for (const { id, measurement } of rows) {
      const own = series.filter((s) => s.measurementId === id);
      const whole = storedMeasurement(joined(measurement, own));
      if (whole) found.set(id, whole);
    }
    return found;
  }

  async one(id: string | null): Promise<Measurement | null> {
    return id === null ? null : ((await this.find([id])).get(id) ?? null);
  }

  /** When and by what something was measured, and what was overruled. */
  async infoOf(id: string): Promise<(MeasurementInfo & { overrides: Overrides }) | null> {
    const [row] = await this.database
      .select({
        id: measurements.id,
        versionId: measurements.versionId,
        engine: measurements.engine,
        overrides: measurements.overrides,
        measuredAt: measurements.measuredAt,
      })
      .from(measurements)
      .where(eq(measurements.id, id));
    return row ? { ...row, measuredAt: row.measuredAt.toISOString() } : null;
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
