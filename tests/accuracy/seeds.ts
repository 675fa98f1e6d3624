/** How far apart the scenes that measures are tuned on lie from those that judge them. */
const APART = 5000;

/**
 * The seed that a case is drawn with. The tables and the tests judge on scenes, movements and noise that no measure was
 * tuned on; `BEVRIN_TUNING=1` draws the others, to tune on.
 */
export const judging = (seed: number): number => (process.env.BEVRIN_TUNING ? seed : seed + APART);
