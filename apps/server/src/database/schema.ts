import type {
  ClipDetail,
  ClipFacts,
  DecidedPlan,
  Decision,
  DeliverySpec,
  Judgement,
  Measurement,
  Overrides,
  Summary,
} from '@bevrin/contract';
import { CLIP_STATES } from '@bevrin/contract';
import {
  boolean,
  date,
  index,
  integer,
  jsonb,
  pgEnum,
  pgTable,
  primaryKey,
  real,
  text,
  timestamp,
  uuid,
} from 'drizzle-orm/pg-core';

/** What an approval rests on, kept as it was. */
export interface ApprovedOn {
  readonly note: string;
  readonly measurement: Measurement;
  readonly judgement: Judgement;
}

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
    /** Where the file is; `null` until an upload is complete. */
    path: text(),
    uploadId: text('upload_id').unique(),
    state: clipState().notNull(),
    progress: real().notNull().default(0),
    error: text(),
    facts: jsonb().$type<ClipFacts>(),
    note: text().notNull().default(''),
    /** A delivery spec of its own, in place of the batch's. */
    specId: text('spec_id'),
    measurement: jsonb().$type<Measurement>(),
    judgement: jsonb().$type<Judgement>(),
    /** What a list shows of the judgement. */
    summary: jsonb().$type<Summary>(),
    /** How a technician wants it measured, */
    overrides: jsonb().$type<Overrides>().notNull().default({}),
    /** how the measurement was made, */
    measuredUnder: jsonb('measured_under').$type<Overrides>(),
    /** and what the machine said on its own, where it was overruled. */
    machine: jsonb().$type<Measurement>(),
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
export type ClipRow = typeof clips.$inferSelect;

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
