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
import type { ClipStore } from './clips.js';
import type { Database } from './database/connect.js';
import { clips, decisions, type ClipRow, type DecisionRow } from './database/schema.js';
import { Problem } from './problem.js';

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
    const row = judged(await this.store.row(clipId));
    const now = asPlan(row, await this.decisionsOn([clipId])).decided;
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
    const frozen = decision.kind === 'approve' ? now : null;
    await this.database.insert(decisions).values({ clipId, who, decision, frozen });
    return this.settled(clipId);
  }

  /** Takes the last decision back. */
  async undo(clipId: string): Promise<ClipPlan> {
    const [last] = await this.database
      .select()
      .from(decisions)
      .where(and(eq(decisions.clipId, clipId), eq(decisions.undone, false)))
      .orderBy(desc(decisions.id))
      .limit(1);
    if (!last) throw new Problem(409, 'There is nothing to take back.');
    await this.database.update(decisions).set({ undone: true }).where(eq(decisions.id, last.id));
    return this.settled(clipId);
  }

  /** Keeps what decisions mean for the measurement with the clip, and tells the pages. */
  private async settled(clipId: string): Promise<ClipPlan> {
    const made = await this.decisionsOn([clipId]);
    await this.store.change(clipId, { overrides: overridesAfter(made) });
    return this.planOf(clipId);
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

  private async decisionsOn(clipIds: readonly string[]): Promise<DecisionRow[]> {
    if (clipIds.length === 0) return [];
    return this.database
      .select()
      .from(decisions)
      .where(inArray(decisions.clipId, [...clipIds]))
      .orderBy(asc(decisions.id));
  }
}

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
  const { spec, findings, verdict } = row.judgement;
  const own = made.filter((d) => d.clipId === row.id);
  const { decided: plan, frameNotes } = asPlan(row, own);
  const { clip } = row.measurement;
  return {
    id: row.id,
    path: row.path,
    measurement: row.measurement,
    report: { clip, note: row.note, frameNotes, spec, findings, verdict, plan },
  };
};

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
  const frozen = rows.findLast((r) => !r.undone && r.decision.kind === 'approve')?.frozen;
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
