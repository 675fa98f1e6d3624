/** Where a camera pointed to, pixels of the clip. */
export interface Pointed {
  readonly x: number;
  readonly y: number;
}

/**
 * How many places a camera pointed to in the last looks at a clip: frames that show the scene's dots on the same sample tell no
 * more of a sensor than one of them. As many as looks where each shows another one, 1 where none does.
 * @param all where it pointed to at each look
 * @param apart places nearer than this are the same one, pixels of the clip
 */
export const placesIn = (all: readonly Pointed[], looks: number, apart: number): number => {
  const last = all.slice(Math.max(0, all.length - looks));
  return alikeIn(last, apart).reduce((sum, alike) => sum + 1 / alike, 0);
};

/** The largest share of the looks that show the scene in one place; 0 where there was none. */
export const mostAlike = (all: readonly Pointed[], apart: number): number =>
  Math.max(0, ...alikeIn(all, apart)) / Math.max(1, all.length);

/** How many of the looks, itself among them, point to where each does. */
const alikeIn = (all: readonly Pointed[], apart: number): number[] =>
  all.map((p) => all.filter((q) => Math.hypot(p.x - q.x, p.y - q.y) <= apart).length);
