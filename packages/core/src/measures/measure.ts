import type { ClipFacts, Overrides, Reading } from '#terms';
import type { MotionAnalysis } from '../motion/motion-analysis.js';
import type { FeedPlan, Frame } from '../picture/frame.js';
import type { Mask } from '../picture/mask.js';

/** A measure that is looking at a clip: frames in, reading out. Holds running figures only, never the frames. */
export interface RunningMeasure<R> {
  /** Takes the next frame of a view that the measure asked for. Frames of one view come in order. */
  take(frame: Frame): void;
  /** What was seen, once the last frame has been taken. */
  finish(): R;
}

/** How a clip is looked at. */
export interface MeasureOptions {
  /** What the technician decided. */
  readonly overrides: Overrides;
  /** What is left out of the picture. */
  readonly mask: Mask;
  /** Rows of the clip for one row of a burst frame: 2 where one field of each frame is looked at. */
  readonly rowStep: 1 | 2;
  /** What the feed delivers. */
  readonly plan: FeedPlan;
}

/** How one defect, or one part of it, is measured. What else is known of the defect stands in its descriptor. */
export interface Measure<R = Reading<unknown, unknown>> {
  /** @param motion what was worked out for all measures together; it is up to date when a small frame is taken */
  begin(clip: ClipFacts, motion: MotionAnalysis, options: MeasureOptions): RunningMeasure<R>;
}
