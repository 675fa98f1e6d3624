/** The part of the clip that the ruler shows, in frames; `to` is not inside. */
export interface TimeWindow {
  readonly from: number;
  readonly to: number;
}

/** Fewer frames than this are never spread over the ruler. */
const FEWEST = 12;

export const wholeTime = (frames: number): TimeWindow => ({ from: 0, to: frames });

const kept = (from: number, span: number, frames: number): TimeWindow => {
  const most = Math.min(frames, Math.max(Math.min(FEWEST, frames), span));
  const start = Math.max(0, Math.min(frames - most, from));
  return { from: start, to: start + most };
};

/** So many times as many frames in sight; the frame under the hand stays there. */
export const stretched = (
  { from, to }: TimeWindow,
  times: number,
  about: number,
  frames: number,
): TimeWindow => {
  const span = Math.min(frames, Math.max(Math.min(FEWEST, frames), (to - from) * times));
  return kept(about - ((about - from) / (to - from)) * span, span, frames);
};

export const shifted = ({ from, to }: TimeWindow, by: number, frames: number): TimeWindow =>
  kept(from + by, to - from, frames);

/** The window moved, if it must be, so that a frame is in sight. */
export const showing = (window: TimeWindow, frame: number, frames: number): TimeWindow => {
  const span = window.to - window.from;
  if (frame >= window.from && frame < window.to) return window;
  return kept(frame - span / 10, span, frames);
};

/** Steps between the figures of the ruler, seconds. */
const STEPS = [0.2, 0.5, 1, 2, 5, 10, 30, 60, 120, 300, 600, 1800];
const MOST_FIGURES = 12;

/** Where the ruler carries figures, in frames. */
export const figuresOn = ({ from, to }: TimeWindow, rate: number): number[] => {
  const seconds = (to - from) / rate;
  const step = STEPS.find((s) => seconds / s <= MOST_FIGURES) ?? 3600;
  const first = Math.ceil(from / rate / step);
  const last = Math.floor((to - 1) / rate / step);
  return Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => (first + i) * step * rate);
};

/**
 * The strongest value of each pixel column: what a lane of thousands of frames comes down to.
 * @returns `null` in columns where nothing was measured
 */
export const columnsOf = (
  strength: readonly (number | null)[],
  { from, to }: TimeWindow,
  columns: number,
): (number | null)[] => {
  const perColumn = (to - from) / columns;
  return Array.from({ length: columns }, (_, c) => {
    const first = Math.floor(from + c * perColumn);
    const last = Math.max(first + 1, Math.ceil(from + (c + 1) * perColumn));
    let most: number | null = null;
    for (let f = first; f < last && f < strength.length; f++) {
      const v = strength[f];
      if (v !== null && v !== undefined && (most === null || v > most)) most = v;
    }
    return most;
  });
};
