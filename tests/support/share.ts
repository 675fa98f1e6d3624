/** Whether every case of every set is run: `npm run test:all`. */
const ALL = process.env.BEVRIN_TEST_ALL === '1';

/**
 * So many of a set of cases, spread evenly over it and the same in every run, for a test that ends while one waits for it;
 * all of them where all are asked for.
 */
export const shareOf = <T>(cases: readonly T[], most: number): T[] =>
  cases.filter(
    (_, i) => ALL || Math.floor((i * most) / cases.length) !== Math.floor(((i - 1) * most) / cases.length),
  );

/** A test that takes its time and finds what others find sooner, from another side: shown as pending in a run that is waited for. */
export const inLongRuns = ALL ? it : it.skip;
/** The same of a group that needs much before its first test. */
export const groupInLongRuns = ALL ? describe : describe.skip;
