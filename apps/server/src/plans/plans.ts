import { and, asc, desc, eq, inArray } from 'drizzle-orm';
import {
  isExpected,
  rationalToNumber,
  type Batch,
  type ClipPlan,
  type DecidedPlan,
  type Decision,
  type DecidedStep,
  type DecisionMade,
  type Finding,
  type Judgement,
  type Measurement,
  type ReportClip,
  type WorkItem,
} from '@bevrin/contract';
import {
  decidedPlan,
  frameNotesOf,
  gainForEffort,
  openedWith,
  overridesAfter,
  whyRefused,
  withTrials,
  type Actor,
  type KeptTrial,
  type Refusal,
} from '@bevrin/core';
import { besideIn } from '../clips/beside.js';
import type { MeasuredRow } from '../clips/clip-rows.js';
import { NO_SUCH_CLIP, type ClipStore } from '../clips/clips.js';
import type { Database, Transaction } from '../database/connect.js';
import { groupedBy } from '../database/grouped.js';
import { clips, decisions, type ApprovedOn, type DecisionRow } from '../database/schema.js';
import { announce } from '../events/announcements.js';
import { Problem } from '../http/problem.js';
import type { TrialStore } from '../trials/trial-store.js';

type Judged = MeasuredRow & { readonly measurement: Measurement; readonly judgement: Judgement };

/** What technicians decided about the plans, kept with who and when. */
export class PlanStore {
  constructor(
    private readonly database: Database,
    private readonly store: ClipStore,
    private readonly trials: TrialStore,
  ) {}

  async planOf(clipId: string): Promise<ClipPlan> {
    const row = judged(await this.store.measuredRow(clipId));
    return asPlan(row, await this.decisionsOn([clipId]), await this.trialsOf(clipId));
  }

  /** @throws {Problem} when the plan is frozen, or a step has nothing to do on this clip */
  async decide(clipId: string, actor: Actor, decision: Decision): Promise<ClipPlan> {
    await this.changing(clipId, async (tx, found) => {
      const row = judged(found);
      const now = asPlan(row, await decisionsOn(tx, [clipId]), await this.trialsOf(clipId)).decided;
      const { measurement, judgement, note } = row;
      const refused = whyRefused(actor, decision, { measurement, findings: judgement.findings, plan: now });
      if (refused) throw new Problem(REFUSED[refused.kind], `${row.name}: ${refused.because}`);
      const approval =
        decision.kind === 'approve'
          ? { frozen: now, approvedOn: { note, measurementId: row.measurementId!, judgement } }
          : {};
      await tx
        .insert(decisions)
        .values({ clipId, versionId: row.versionId, who: actor.name, decision, ...approval });
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
    change: (tx: Transaction, row: MeasuredRow) => Promise<void>,
  ): Promise<void> {
    await this.database.transaction(async (tx) => {
      const locked = await tx.select({ id: clips.id }).from(clips).where(eq(clips.id, clipId)).for('update');
      if (locked.length === 0) throw NO_SUCH_CLIP();
      const [row] = await this.store.withMeasurements(await this.store.rows(eq(clips.id, clipId), tx), tx);
      await change(tx, row);
      const overrides = overridesAfter(await decisionsOn(tx, [clipId]));
      await tx.update(clips).set({ overrides }).where(eq(clips.id, clipId));
      await announce(tx, { kind: 'clip', clipId });
    });
  }

  /** The measured clips of a batch with their plans, for what leaves the house. */
  async plannedOf(batchId: string): Promise<{ batch: Batch; clips: PlannedClip[] }> {
    const batch = await this.store.batch(batchId);
    const rows = (await this.store.measuredIn(batchId)).filter(
      (r): r is Judged => r.measurement !== null && r.judgement !== null,
    );
    return { batch, clips: await this.asPlanned(rows) };
  }

  async planned(clipId: string): Promise<{ batch: Batch; clip: PlannedClip }> {
    const row = judged(await this.store.measuredRow(clipId));
    const batch = await this.store.batch(row.batchId);
    const [clip] = await this.asPlanned([row]);
    return { batch, clip };
  }

  /** Clips with their plans; an approved one with what it rests on, whatever readings and limits have become since. */
  private async asPlanned(rows: readonly Judged[]): Promise<PlannedClip[]> {
    const made = groupedBy(await this.decisionsOn(rows.map((r) => r.id)), (d) => d.clipId);
    const trials = await this.trials.kept(rows.map((r) => r.id));
    const plans = rows.map((row) => {
      const own = made(row.id);
      const plan = asPlan(row, own, trials(row.id));
      return { row, plan, rests: approvedOn(plan.decided, own) };
    });
    const approved = await this.store.measurements.find(plans.map((p) => p.rests?.measurementId ?? null));
    const beside = await besideIn(
      this.database,
      this.store.specs,
      rows.map((r) => r.batchId),
    );
    return plans.map(({ row, plan: { decided: plan, frameNotes }, rests }) => {
      const { note, judgement } = rests ?? row;
      const measurement = approved.get(rests?.measurementId ?? '')?.measurement ?? row.measurement;
      const { spec, findings, verdict } = judgement;
      return {
        id: row.id,
        path: row.version.path,
        poster: row.version.poster,
        measurement,
        report: {
          clip: measurement.clip,
          note,
          frameNotes,
          spec,
          findings,
          verdict,
          plan,
          beside: beside.get(row.id) ?? [],
        },
      };
    });
  }

  /** All plans of a batch as one list for the repair room. */
  async workOf(batchId: string): Promise<WorkItem[]> {
    const { clips: planned } = await this.plannedOf(batchId);
    return planned.map(asWork);
  }

  private async trialsOf(clipId: string): Promise<KeptTrial[]> {
    return (await this.trials.kept([clipId]))(clipId);
  }

  private decisionsOn(clipIds: readonly string[]): Promise<DecisionRow[]> {
    return decisionsOn(this.database, clipIds);
  }
}

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

/** How a refusal is answered. */
const REFUSED: Record<Refusal['kind'], 400 | 409 | 422> = { nobody: 400, frozen: 409, meaningless: 422 };

const judged = (row: MeasuredRow): Judged => {
  const { measurement, judgement } = row;
  if (!measurement || !judgement)
    throw new Problem(409, `${row.name}: it has not been measured yet, so there is no plan.`);
  return { ...row, measurement, judgement };
};

/** A clip with all that a report needs. */
export interface PlannedClip {
  readonly id: string;
  readonly path: string | null;
  /** A small picture of the clip, by its name in the picture store. */
  readonly poster: string | null;
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
  severity: Object.fromEntries(plan.steps.map((s) => [s.treatment, findingOf(s, findings)?.severity ?? 0])),
  gain: Object.fromEntries(
    plan.steps.map((s) => {
      const finding = findingOf(s, findings);
      return [s.treatment, finding ? gainForEffort(finding, s.cost, s.confidence, clip.durationSec) : 0];
    }),
  ),
});

/** The finding that a step is for. */
const findingOf = (step: DecidedStep, findings: readonly Finding[]): Finding | undefined =>
  findings.find((f) => isExpected(step, f));

/** The approval that holds, if any. */
const approvalIn = (rows: readonly DecisionRow[]): DecisionRow | undefined =>
  rows.findLast((r) => !r.undone && r.decision.kind === 'approve');

/** What an approved plan rests on: its report shows that, whatever readings and limits have become since. */
const approvedOn = ({ approved }: DecidedPlan, rows: readonly DecisionRow[]): ApprovedOn | null =>
  (approved && approvalIn(rows)?.approvedOn) ?? null;

const asPlan = (
  { measurement, judgement: { plan, findings } }: Judged,
  rows: readonly DecisionRow[],
  trials: readonly KeptTrial[],
): ClipPlan => {
  const history: DecisionMade[] = rows.map(({ id, who, at, undone, decision }) => ({
    id,
    who,
    at: at.toISOString(),
    undone,
    decision: withoutTable(decision),
  }));
  const decided = withTrials(decidedPlan(openedWith(plan, trials), findings, measurement, history), trials, {
    decisions: history,
    findings,
    clip: measurement.clip,
  });
  return {
    proposed: plan,
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
