import type { ClipFacts, Defect, Overrides, Reading } from '@bevrin/contract';
import type { Ground } from '../motion/ground.js';
import type { Frame, FrameView } from '../picture/frame.js';
import type { Mask } from '../picture/mask.js';

/** A measure that is looking at a clip: frames in, reading out. Holds running figures only, never the frames. */
export interface RunningMeasure<R> {
  /** Takes the next frame of a view that the measure asked for. Frames of one view come in order. */
  take(frame: Frame): void;
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
}

/** One of the eight. Adding one is adding a module that exports this. */
export interface Measure<R = Reading<unknown>> {
  readonly defect: Defect;
  /** What it needs to see. The feed is decoded once and serves all measures. */
  readonly needs: readonly FrameView[];
  /** What a technician may decide that changes its reading; in and out point and masks always do. */
  readonly heeds: readonly Exclude<keyof Overrides, 'range' | 'masks'>[];
  /** @param ground what was worked out for all measures together; it is up to date when a small frame is taken */
  begin(clip: ClipFacts, ground: Ground, options: MeasureOptions): RunningMeasure<R>;
}
