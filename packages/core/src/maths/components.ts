/**
 * All places that hang together with one, by their edges (four neighbours).
 * @param start index of a place that belongs to it
 * @param width samples in a row
 * @param height rows
 * @param take whether a place belongs; asked once of each, and must remember that it was taken
 */
export const connectedTo = (
  start: number,
  width: number,
  height: number,
  take: (index: number) => boolean,
): number[] => {
  const members = [start];
  for (const i of members) {
    const x = i % width;
    if (x > 0 && take(i - 1)) members.push(i - 1);
    if (x < width - 1 && take(i + 1)) members.push(i + 1);
    if (i >= width && take(i - width)) members.push(i - width);
    if (i < width * (height - 1) && take(i + width)) members.push(i + width);
  }
  return members;
};

/** The smallest box about some places and so far beyond them, both ends inside, cut off at a margin from the edges. */
export const boxAbout = (
  members: readonly number[],
  width: number,
  height: number,
  beyond: number,
  margin = 0,
): { readonly left: number; readonly right: number; readonly top: number; readonly bottom: number } => {
  let left = width;
  let right = 0;
  let top = height;
  let bottom = 0;
  for (const i of members) {
    const x = i % width;
    const y = Math.floor(i / width);
    if (x < left) left = x;
    if (x > right) right = x;
    if (y < top) top = y;
    if (y > bottom) bottom = y;
  }
  return {
    left: Math.max(margin, left - beyond),
    right: Math.min(width - margin - 1, right + beyond),
    top: Math.max(margin, top - beyond),
    bottom: Math.min(height - margin - 1, bottom + beyond),
  };
};

/** Share of the places of a box for which something holds, 0–1. */
export const shareIn = (
  { left, right, top, bottom }: ReturnType<typeof boxAbout>,
  width: number,
  holds: (index: number) => boolean,
): number => {
  let count = 0;
  for (let y = top; y <= bottom; y++) for (let x = left; x <= right; x++) if (holds(y * width + x)) count++;
  return count / Math.max(1, (right - left + 1) * (bottom - top + 1));
};
