/** Black about the picture, pixels of each side. */
export interface BlackBars {
  readonly top: number;
  readonly bottom: number;
  readonly left: number;
  readonly right: number;
}

/** A line of a bar has nothing brighter than this above black, fraction of range. */
export const BLACK = 0.012;
/** A bar is at most this share of the picture's side. */
const MOST = 0.35;

/**
 * Rows and columns of the frame that are black from end to end; none where most of it is black. Looks at one line at a
 * time.
 * @param limit code above which nothing is black
 */
export const blackBarsOf = (
  { width, height, samples }: { width: number; height: number; samples: ArrayLike<number> },
  limit: number,
): BlackBars => {
  const row = (y: number): boolean => {
    for (let i = y * width, end = i + width; i < end; i++) if (samples[i] > limit) return false;
    return true;
  };
  const column = (x: number): boolean => {
    for (let i = x; i < samples.length; i += width) if (samples[i] > limit) return false;
    return true;
  };
  const run = (is: (k: number) => boolean, length: number): number => {
    const most = Math.floor(MOST * length);
    let n = 0;
    while (n <= most && is(n)) n++;
    return n > most ? 0 : n;
  };
  return {
    top: run(row, height),
    bottom: run((k) => row(height - 1 - k), height),
    left: run(column, width),
    right: run((k) => column(width - 1 - k), width),
  };
};
