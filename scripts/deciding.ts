/** Where the measures lie, from the root of the repository. */
export const MEASURES = 'packages/core/src/measures';
/** The thresholds that decide most: the file, from the folder of the measures, and the name. */
export const DECIDING: readonly (readonly [file: string, name: string])[] = [
  ['flicker/exposure.ts', 'MOST_LEFT'],
  ['flicker/exposure.ts', 'LEAST_SIZE'],
  ['flicker/pattern.ts', 'REGULAR'],
  ['hot-pixels/faulty-pixels/isolation.ts', 'ON_EVEN_GROUND'],
  ['hot-pixels/faulty-pixels/isolation.ts', 'ROUND'],
  ['hot-pixels/faulty-pixels/isolation.ts', 'LEAST_ISOLATION'],
  ['hot-pixels/faulty-pixels/crowd.ts', 'DOTS_TO_ONE_ALIKE'],
  ['hot-pixels/lens-spots/lens-spots.ts', 'LEAST_DEPTH'],
  ['banding/staircase.ts', 'QUIET'],
  ['banding/banding.ts', 'AGREED'],
  ['moire/alias.ts', 'FITS'],
  ['moire/peak.ts', 'STANDS_OUT'],
  ['softness/edge.ts', 'HOLDS'],
  ['softness/softness.ts', 'SHARPEST_PARTS'],
];

/**
 * Where a source states a threshold.
 * @returns the statement, and the figure in it
 * @throws where it states none of that name as a plain figure
 */
export const statedIn = (source: string, name: string): RegExpExecArray => {
  const stated = new RegExp(`const ${name} = ([0-9._]+);`).exec(source);
  if (!stated) throw new Error(`No threshold ${name} is stated there.`);
  return stated;
};
