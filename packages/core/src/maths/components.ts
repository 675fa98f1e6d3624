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
