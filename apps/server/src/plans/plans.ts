import { and, asc, desc, eq, inArray } from 'drizzle-orm';
import {
  rationalToNumber,
  type Batch,
  type ClipPlan,
  type DecidedPlan,
  type Decision,
  type DecisionMade,
  type MakeDecision,
  type Measurement,
  type ReportClip,
  type WorkItem,
} from '@bevrin/contract';
import { decidedPlan, frameNotesOf, overridesAfter, stepByHand, whyUnusable } from '@bevrin/core';
import { NO_SUCH_CLIP, type ClipStore } from '../clips/clips.js';
import type { Database } from '../database/connect.js';
import { clips, decisions, type ApprovedOn, type ClipRow, type DecisionRow } from '../database/schema.js';
import { Problem } from '../http/problem.js';

type Judged = ClipRow & { measurement: NonNullable<ClipRow['measurement']> } & {
  judgement: NonNullable<ClipRow['judgement']>;
};

/** What technicians decided about the plans, kept with who and when. */
export class PlanStore {
  constructor(
    private readonly database: Database,
    private readonly store: ClipStore,
  ) {}

  async planOf(clipId: string): Promise<ClipPlan> {
    const row = judged(await this.store.row(clipId));
    return asPlan(row, await this.decisionsOn([clipId]));
  }

  /** @throws {Problem} when the plan is frozen, or a step has nothing to do on this clip */
  async decide(clipId: string, { who, decision }: MakeDecision): Promise<ClipPlan> {
    await this.changing(clipId, async (tx, found) => {
      const row = judged(found);
      const now = asPlan(row, await decisionsOn(tx, [clipId])).decided;
      mustBeAllowed(row, now, decision);
      const approval =
        decision.kind === 'approve'
          ? {
              frozen: now,
              approvedOn: { note: row.note, measurement: row.measurement, judgement: row.judgement },
            }
          : {};
      await tx.insert(decisions).values({ clipId, who, decision, ...approval });
    });
    return this.planOf(clipId);
  }

  /** Takes the last decision back. */
  async undo(clipId: string): Promise<ClipPlan> {
    await this.changing(clipId, async (tx) => {
      const [last] = await tx
        .select()
        .from(decisions)
        .where(and(eq(decisions.clipId, clipId), eq(decisions.undone, false)))
        .orderBy(desc(decisions.id))
        .limit(1);
      if (!last) throw new Problem(409, 'There is nothing to take back.');
      await tx.update(decisions).set({ undone: true }).where(eq(decisions.id, last.id));
    });
    return this.planOf(clipId);
  }

  /**
   * Changes what is decided on a clip together with what it means for the measurement: a crash leaves both or neither, and
   * of two who decide at once the second sees what the first did.
   */
  private async changing(
    clipId: string,
    change: (tx: Transaction, row: ClipRow) => Promise<void>,
  ): Promise<void> {
    await this.database.transaction(async (tx) => {
      const [row] = await tx.select().from(clips).where(eq(clips.id, clipId)).for('update');
      if (!row) throw NO_SUCH_CLIP();
      await change(tx, row);
      const overrides = overridesAfter(await decisionsOn(tx, [clipId]));
      await tx.update(clips).set({ overrides }).where(eq(clips.id, clipId));
    });
    await this.store.tellAgain(clipId);
  }

  /** The measured clips of a batch with their plans, for what leaves the house. */
  async plannedOf(batchId: string): Promise<{ batch: Batch; clips: PlannedClip[] }> {
    const batch = await this.store.batch(batchId);
    const rows = await this.judgedIn(batchId);
    const made = await this.decisionsOn(rows.map((r) => r.id));
    return { batch, clips: rows.map((row) => asPlanned(row, made)) };
  }

  async planned(clipId: string): Promise<{ batch: Batch; clip: PlannedClip }> {
    const row = judged(await this.store.row(clipId));
    const batch = await this.store.batch(row.batchId);
    return { batch, clip: asPlanned(row, await this.decisionsOn([clipId])) };
  }

  /** All plans of a batch as one list for the repair room. */
  async workOf(batchId: string): Promise<WorkItem[]> {
    const { clips: planned } = await this.plannedOf(batchId);
    return planned.map(asWork);
  }

  private async judgedIn(batchId: string): Promise<Judged[]> {
    const rows = await this.database
      .select()
      .from(clips)
      .where(eq(clips.batchId, batchId))
      .orderBy(asc(clips.position));
    return rows.filter((r): r is Judged => r.measurement !== null && r.judgement !== null);
  }

  private decisionsOn(clipIds: readonly string[]): Promise<DecisionRow[]> {
    return decisionsOn(this.database, clipIds);
  }
}

type Transaction = Parameters<Parameters<Database['transaction']>[0]>[0];

const decisionsOn = async (
  database: Database | Transaction,
  clipIds: readonly string[],
): Promise<DecisionRow[]> => {
  if (clipIds.length === 0) return [];
  return database
    .select()
    .from(decisions)
    .where(inArray(decisions.clipId, [...clipIds]))
    .orderBy(asc(decisions.id));
};

/** @throws {Problem} when a decision cannot be made on a clip as it stands */
const mustBeAllowed = (row: Judged, now: DecidedPlan, decision: Decision): void => {
  if (now.approved && decision.kind !== 'reopen' && decision.kind !== 'frameNote')
    throw new Problem(
      409,
      `${row.name}: ${now.approved.who} approved this plan, and it is frozen. Open it again to change it.`,
    );
  if (decision.kind === 'add' && !stepByHand(decision.treatment, row.judgement.findings, row.measurement))
    throw new Problem(
      422,
      `${row.name}: there is nothing for this treatment to do: what it mends was not measured on this clip.`,
    );
  if (decision.kind === 'overrule') {
    const wrong = whyUnusable(decision.overrides, row.measurement.clip);
    if (wrong) throw new Problem(422, `${row.name}: ${wrong}`);
  }
  if (decision.kind === 'frameNote' && decision.frame >= row.measurement.clip.frames)
    throw new Problem(422, `${row.name}: there is no frame ${decision.frame}. Choose an earlier one.`);
};

const judged = (row: ClipRow): Judged => {
  const { measurement, judgement } = row;
  if (!measurement || !judgement)
    throw new Problem(409, `${row.name}: it has not been measured yet, so there is no plan.`);
  return { ...row, measurement, judgement };
};

/** A clip with all that a report needs. */
export interface PlannedClip {
  readonly id: string;
  readonly path: string | null;
  readonly report: ReportClip;
  readonly measurement: Measurement;
}

const asWork = ({ id, measurement, report: { clip, findings, plan } }: PlannedClip): WorkItem => ({
  clipId: id,
  clip: clip.file,
  durationSec: clip.durationSec,
  alike: alike(measurement),
  verdict: plan.verdict,
  plan,
  severity: Object.fromEntries(
    plan.steps.map((s) => [
      s.treatment,
      findings.find((f) => f.defect === s.defect && f.reading === s.expect.reading)?.severity ?? 0,
    ]),
  ),
});

const asPlanned = (row: Judged, made: readonly DecisionRow[]): PlannedClip => {
  const own = made.filter((d) => d.clipId === row.id);
  const { decided: plan, frameNotes } = asPlan(row, own);
  const { measurement, judgement, note } = approvedOn(plan, own) ?? row;
  const { spec, findings, verdict } = judgement;
  return {
    id: row.id,
    path: row.path,
    measurement,
    report: { clip: measurement.clip, note, frameNotes, spec, findings, verdict, plan },
  };
};

/** The approval that holds, if any. */
const approvalIn = (rows: readonly DecisionRow[]): DecisionRow | undefined =>
  rows.findLast((r) => !r.undone && r.decision.kind === 'approve');

/** What an approved plan rests on: its report shows that, whatever readings and limits have become since. */
const approvedOn = ({ approved }: DecidedPlan, rows: readonly DecisionRow[]): ApprovedOn | null =>
  (approved && approvalIn(rows)?.approvedOn) ?? null;

const asPlan = ({ measurement, judgement }: Judged, rows: readonly DecisionRow[]): ClipPlan => {
  const history: DecisionMade[] = rows.map(({ id, who, at, undone, decision }) => ({
    id,
    who,
    at: at.toISOString(),
    undone,
    decision: withoutTable(decision),
  }));
  const decided = decidedPlan(judgement.plan, judgement.findings, measurement, history);
  return {
    proposed: judgement.plan,
    decided: frozenOr(decided, rows),
    frameNotes: frameNotesOf(history),
    history,
  };
};

/** The text of a `.cube` table is long, and kept with the clip; a history does without. */
const withoutTable = (decision: Decision): Decision =>
  decision.kind === 'overrule' && decision.overrides.viewing?.kind === 'cube'
    ? {
        ...decision,
        overrides: { ...decision.overrides, viewing: { ...decision.overrides.viewing, text: '' } },
      }
    : decision;

/** An approved plan stays as it was approved, whatever its spec has become. */
const frozenOr = (decided: DecidedPlan, rows: readonly DecisionRow[]): DecidedPlan => {
  const frozen = approvalIn(rows)?.frozen;
  return decided.approved && frozen ? { ...frozen, approved: decided.approved } : decided;
};

/** Noise is alike within a factor of about 1.4. */
const alike = ({ clip, readings: { noise } }: Measurement): string => {
  const level =
    noise.state === 'measured' && noise.values.lumaPct > 0
      ? `noise about ${Number((2 ** (Math.round(2 * Math.log2(noise.values.lumaPct)) / 2)).toPrecision(2))} %`
      : 'noise unknown';
  return `${clip.codec} ${clip.width}×${clip.height}, ${Number(rationalToNumber(clip.frameRate).toFixed(2))} fps, ${level}`;
};
