import type { ClipFacts } from '#terms';

/** Code values of one plane, row by row. */
export interface Plane {
  readonly width: number;
  readonly height: number;
  readonly samples: Uint8Array | Uint16Array;
}

/**
 * A way of seeing the clip. `small`: luma of every frame, each pixel a weighted mean (a tent twice
 * as wide as itself), 16 bits a sample. `burst`: full-size frames
 * at the clip's own depth, a few neighbours at a time.
 */
export type FrameView = 'small' | 'burst';

/** One frame as a measure sees it. The samples are only valid until the next frame is taken. */
export interface Frame {
  readonly view: FrameView;
  /** Position in the clip, from 0. */
  readonly index: number;
  /** `small`: luma. `burst`: Y Cb Cr; G B R where the matrix is `rgb`; luma alone where there is no colour. */
  readonly planes: readonly Plane[];
  /** `burst` of a clip of which one field is looked at: luma of both fields, row by row as they are stored. */
  readonly woven?: Plane;
}

/** How large the small view is, and which frames are seen full size. */
export interface FeedPlan {
  /** In and out point, where only a part of the clip is looked at: frames are counted from the in point. */
  readonly range: { readonly startFrame: number; readonly endFrame: number } | null;
  /** Whether one field of each frame is looked at, as a picture of half the height. */
  readonly field: boolean;
  readonly small: { readonly width: number; readonly height: number };
  readonly bursts: {
    readonly first: number;
    readonly stride: number;
    readonly length: number;
    readonly count: number;
  };
}

/** Small frames are at most this wide or high: enough to follow a camera to a tenth of a pixel, little enough for every frame. */
const SMALL_SIDE = 512;
/** A short clip has few frames to tell a fault of the sensor from the scene by: more of them are looked at. */
const SHORT_FRAMES = 200;
const SHORT_BURSTS = 16;
const FEWEST_BURSTS = 12;
const MOST_BURSTS = 64;
const FRAMES_PER_BURST = 42;
const BURST_LENGTH = 2;

/**
 * Spreads the bursts evenly over the clip; a short clip is seen full size from end to end.
 * @param fullSize whether anybody needs full-size frames
 */
export const planFeed = (
  facts: Pick<ClipFacts, 'width' | 'height' | 'frames' | 'scan'>,
  range: FeedPlan['range'] = null,
  fullSize = true,
): FeedPlan => {
  const factor = Math.max(1, Math.ceil(Math.max(facts.width, facts.height) / SMALL_SIDE));
  const wanted = Math.min(
    MOST_BURSTS,
    Math.max(
      facts.frames < SHORT_FRAMES ? SHORT_BURSTS : FEWEST_BURSTS,
      Math.round(facts.frames / FRAMES_PER_BURST),
    ),
  );
  const stride = Math.max(BURST_LENGTH, Math.floor(facts.frames / wanted));
  return {
    range,
    field: facts.scan === 'interlaced',
    small: {
      width: Math.max(1, Math.floor(facts.width / factor)),
      height: Math.max(1, Math.floor(facts.height / factor)),
    },
    bursts: {
      first: Math.floor((stride - BURST_LENGTH) / 2),
      stride,
      length: BURST_LENGTH,
      count: fullSize ? Math.max(1, Math.min(wanted, Math.ceil(facts.frames / stride))) : 0,
    },
  };
};

/**
 * Whether a burst is one of the few that a measure looks at, spread evenly over all of them.
 * @param most how many it looks at, where there are so many
 */
export const isOneOfFew = ({ bursts: { count } }: FeedPlan, burst: number, most: number): boolean =>
  count <= most || Math.floor((burst * most) / count) !== Math.floor(((burst - 1) * most) / count);

/** Which burst a frame belongs to, or `null`. */
export const burstOf = (plan: FeedPlan, frame: number): number | null => {
  const { first, stride, length, count } = plan.bursts;
  if (frame < first) return null;
  const burst = Math.floor((frame - first) / stride);
  return burst < count && (frame - first) % stride < length ? burst : null;
};
