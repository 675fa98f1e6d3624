import type { ClipFacts, Defect, Reading } from '@bevrin/contract';
import type { Ground } from '../motion/ground.js';
import type { Frame, FrameView } from '../picture/frame.js';

/** A measure that is looking at a clip: frames in, reading out. Holds running figures only, never the frames. */
export interface RunningMeasure<R> {
  /** Takes the next frame of a view that the measure asked for. Frames of one view come in order. */
  take(frame: Frame): void;
  finish(): R;
}

/** One of the eight. Adding one is adding a module that exports this. */
export interface Measure<R = Reading<unknown>> {
  readonly defect: Defect;
  /** What it needs to see. The feed is decoded once and serves all measures. */
  readonly needs: readonly FrameView[];
  /** @param ground what was worked out for all measures together; it is up to date when a small frame is taken */
  begin(clip: ClipFacts, ground: Ground): RunningMeasure<R>;
}
