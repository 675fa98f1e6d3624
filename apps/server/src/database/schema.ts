import type {
  AskTrial,
  ClipDetail,
  ClipFacts,
  DecidedPlan,
  Decision,
  DeliverySpec,
  Judgement,
  Overrides,
  Recheck,
  RecheckSigned,
  RecheckWaiver,
  Summary,
  Trial,
  TriedSubject,
} from '@bevrin/contract';
import type { Lies } from '@bevrin/media';
import { CLIP_STATES, TRIAL_STATES, VERSION_KINDS } from '@bevrin/contract';
import {
  bigint,
  boolean,
  customType,
  date,
  doublePrecision,
  index,
  integer,
  jsonb,
  pgEnum,
  pgTable,
  primaryKey,
  real,
  text,
  timestamp,
  uniqueIndex,
  uuid,
  type AnyPgColumn,
} from 'drizzle-orm/pg-core';

/** What an approval rests on, kept as it was; the measurement is a row that nobody changes. */
export interface ApprovedOn {
  readonly note: string;
  readonly measurementId: string;
  readonly judgement: Judgement;
}

const bytea = customType<{ data: Buffer }>({ dataType: () => 'bytea' });

export const clipState = pgEnum('clip_state', CLIP_STATES);

export const batches = pgTable('batches', {
  id: uuid().primaryKey().defaultRandom(),
  name: text().notNull(),
  production: text().notNull().default(''),
  specId: text('spec_id').notNull(),
  dueOn: date('due_on'),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
});

export const clips = pgTable(
  'clips',
  {
    id: uuid().primaryKey().defaultRandom(),
    batchId: uuid('batch_id')
      .notNull()
      .references(() => batches.id, { onDelete: 'cascade' }),
    position: integer().notNull().generatedAlwaysAsIdentity(),
    name: text().notNull(),
    state: clipState().notNull(),
    progress: real().notNull().default(0),
    error: text(),
    note: text().notNull().default(''),
    /** A delivery spec of its own, in place of the batch's. */
    specId: text('spec_id'),
    /** The version that is measured and planned for. */
    versionId: uuid('version_id').references((): AnyPgColumn => versions.id),
    /** Its measurement, as it is wanted, */
    measurementId: uuid('measurement_id').references((): AnyPgColumn => measurements.id),
    /** and what the machine said on its own, where it was overruled. */
    machineId: uuid('machine_id').references((): AnyPgColumn => measurements.id),
    judgement: jsonb().$type<Judgement>(),
    /** What a list shows of the judgement. */
    summary: jsonb().$type<Summary>(),
    /** How a technician wants it measured. */
    overrides: jsonb().$type<Overrides>().notNull().default({}),
    truth: jsonb().$type<ClipDetail['truth']>().notNull().default([]),
    /** Who measures it, and until when that holds if nothing is heard of them; while it waits, not before when it may begin. */
    leasedBy: text('leased_by'),
    leasedUntil: timestamp('leased_until', { withTimezone: true }),
    /** Whether it is to be measured from nothing, whatever is known of it. */
    fresh: boolean().notNull().default(false),
    /** How often it was begun without coming to an end. */
    attempts: integer().notNull().default(0),
    createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [index('clips_batch').on(table.batchId, table.position)],
);
export type ClipColumns = typeof clips.$inferSelect;

export const versionKind = pgEnum('version_kind', VERSION_KINDS);

/** One file of a clip: the original, a repaired one that came back, or a trial that was rendered. */
export const versions = pgTable(
  'versions',
  {
    id: uuid().primaryKey().defaultRandom(),
    clipId: uuid('clip_id')
      .notNull()
      .references((): AnyPgColumn => clips.id, { onDelete: 'cascade' }),
    /** Counted from 1 within its clip. */
    number: integer().notNull(),
    kind: versionKind().notNull(),
    /** The version that it was made from, */
    madeFrom: uuid('made_from').references((): AnyPgColumn => versions.id),
    /** and the approval of the plan that it was made by. */
    madeBy: integer('made_by').references((): AnyPgColumn => decisions.id),
    /** Where the file is; `null` until an upload is complete. */
    path: text(),
    uploadId: text('upload_id').unique(),
    /** Bytes of the file, */
    size: bigint({ mode: 'number' }),
    /** when it was last changed, ms since 1970, when its content was read, */
    modifiedMs: doublePrecision('modified_ms'),
    /** and SHA-256 of that content, as hexadecimal figures. */
    contentHash: text('content_hash'),
    facts: jsonb().$type<ClipFacts>(),
    /** Pictures of it in the picture store, by their content. */
    poster: text(),
    proxy: text(),
    createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [uniqueIndex('versions_clip').on(table.clipId, table.number)],
);
export type VersionRow = typeof versions.$inferSelect;

/** What was seen of a version, and how; never changed. Its series lie apart. */
export const measurements = pgTable(
  'measurements',
  {
    id: uuid().primaryKey().defaultRandom(),
    versionId: uuid('version_id')
      .notNull()
      .references((): AnyPgColumn => versions.id, { onDelete: 'cascade' }),
    /** Version of the engine that measured. */
    engine: text().notNull(),
    /** What was overruled when it was made. */
    overrides: jsonb().$type<Overrides>().notNull().default({}),
    /** As its version wrote it: read by `storedMeasurement`. */
    measurement: jsonb().$type<unknown>().notNull(),
    measuredAt: timestamp('measured_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [index('measurements_version').on(table.versionId)],
);
export type MeasurementRow = typeof measurements.$inferSelect;

/** One value for each frame of one series: 64-bit floats one after the other, most significant byte first, NaN for none. */
export const measurementSeries = pgTable(
  'measurement_series',
  {
    measurementId: uuid('measurement_id')
      .notNull()
      .references(() => measurements.id, { onDelete: 'cascade' }),
    defect: text().notNull(),
    name: text().notNull(),
    packed: bytea().notNull(),
  },
  (table) => [primaryKey({ columns: [table.measurementId, table.defect, table.name] })],
);

export const specVersions = pgTable(
  'spec_versions',
  {
    specId: text('spec_id').notNull(),
    version: integer().notNull(),
    spec: jsonb().$type<DeliverySpec>().notNull(),
    savedAt: timestamp('saved_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.specId, table.version] })],
);

/** What technicians decided, one row after the other; nothing is ever taken out. */
export const decisions = pgTable(
  'decisions',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    clipId: uuid('clip_id')
      .notNull()
      .references(() => clips.id, { onDelete: 'cascade' }),
    /** The version that it was made on. */
    versionId: uuid('version_id').references((): AnyPgColumn => versions.id),
    who: text().notNull(),
    at: timestamp({ withTimezone: true }).notNull().defaultNow(),
    undone: boolean().notNull().default(false),
    decision: jsonb().$type<Decision>().notNull(),
    /** The plan as it was approved, */
    frozen: jsonb().$type<DecidedPlan>(),
    /** and what it was approved on: facts, spec, findings, verdict and readings. */
    approvedOn: jsonb('approved_on').$type<ApprovedOn>(),
  },
  (table) => [index('decisions_clip').on(table.clipId, table.id)],
);
export type DecisionRow = typeof decisions.$inferSelect;

export const trialState = pgEnum('trial_state', TRIAL_STATES);

/** Settings of a treatment that are tried on some frames of a version, and what was found. */
export const trials = pgTable(
  'trials',
  {
    id: uuid().primaryKey().defaultRandom(),
    clipId: uuid('clip_id')
      .notNull()
      .references(() => clips.id, { onDelete: 'cascade' }),
    versionId: uuid('version_id')
      .notNull()
      .references(() => versions.id, { onDelete: 'cascade' }),
    treatment: text().$type<TriedSubject>().notNull(),
    /** What was asked for beyond what the plan says. */
    order: jsonb().$type<Pick<AskTrial, 'settings' | 'sweep' | 'range'>>().notNull().default({}),
    /** Who asked for it; empty where nobody did. */
    who: text().notNull().default(''),
    state: trialState().notNull().default('waiting'),
    progress: real().notNull().default(0),
    error: text(),
    trial: jsonb().$type<Trial>(),
    /** Seconds of work, over all attempts. */
    seconds: real().notNull().default(0),
    /** Bytes of the frames of its runs; 0 when they were dropped. */
    frameBytes: bigint('frame_bytes', { mode: 'number' }).notNull().default(0),
    /** Who works at it, and until when that holds if nothing is heard of them. */
    leasedBy: text('leased_by'),
    leasedUntil: timestamp('leased_until', { withTimezone: true }),
    attempts: integer().notNull().default(0),
    startedAt: timestamp('started_at', { withTimezone: true }),
    createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [index('trials_clip').on(table.clipId, table.createdAt), index('trials_state').on(table.state)],
);
export type TrialRow = typeof trials.$inferSelect;

/** Repaired versions of a clip against the version that they were made from. */
export const rechecks = pgTable(
  'rechecks',
  {
    id: uuid().primaryKey().defaultRandom(),
    clipId: uuid('clip_id')
      .notNull()
      .references(() => clips.id, { onDelete: 'cascade' }),
    /** The repaired version; what it was made from stands with it. */
    versionId: uuid('version_id')
      .notNull()
      .references(() => versions.id, { onDelete: 'cascade' }),
    /** Who returned it. */
    who: text().notNull(),
    state: trialState().notNull().default('waiting'),
    progress: real().notNull().default(0),
    error: text(),
    recheck: jsonb().$type<Recheck>(),
    /** What was measured of the repaired file. */
    measurementId: uuid('measurement_id').references(() => measurements.id, { onDelete: 'set null' }),
    /** How its frames lie on the original's. */
    lies: jsonb().$type<Lies & { range: { startFrame: number; endFrame: number } }>(),
    signed: jsonb().$type<RecheckSigned>(),
    waived: jsonb().$type<RecheckWaiver[]>().notNull().default([]),
    /** Who works at it, and until when that holds if nothing is heard of them. */
    leasedBy: text('leased_by'),
    leasedUntil: timestamp('leased_until', { withTimezone: true }),
    attempts: integer().notNull().default(0),
    createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [index('rechecks_clip').on(table.clipId, table.createdAt)],
);
export type RecheckRow = typeof rechecks.$inferSelect;
