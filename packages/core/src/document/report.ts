import { z } from 'zod';
import { DecidedPlan, FrameNote } from './decisions.js';
import { Finding, SpecName } from './document.js';
import { Verdict } from './defects.js';
import { BesideFinding } from './neighbours.js';
import { MeasuredClip } from '../terms/index.js';

/** One clip as it leaves the house: its facts, what was found, and what was decided. */
export const ReportClip = z.strictObject({
  clip: MeasuredClip,
  note: z.string(),
  frameNotes: z.array(FrameNote),
  spec: SpecName,
  findings: z.array(Finding),
  /** As measured; the plan holds the one without what was waived. */
  verdict: Verdict,
  plan: DecidedPlan,
  /** How it differs from the other clips of its roll. */
  beside: z.array(BesideFinding).default([]),
});
export type ReportClip = z.infer<typeof ReportClip>;

/** A batch, or one clip of it, for other programs. */
export const Report = z.strictObject({
  schema: z.literal('bevrin.report/1'),
  batch: z.string(),
  production: z.string(),
  clips: z.array(ReportClip),
});
export type Report = z.infer<typeof Report>;
