/** Digits that are worth saying of a reading. */
const DIGITS = 3;

/**
 * A figure with its unit as pages, sheets and the command say it: `2.31 %`, `3 places`, `1 place`.
 * @param unit may be empty, for an index
 */
export const amount = (value: number, unit = ''): string => {
  const figure = Number(value.toPrecision(DIGITS));
  const one = figure === 1 ? (SINGULAR[unit] ?? unit) : unit;
  const text = String(figure).replace('-', '−');
  return one ? `${text} ${one}` : text;
};

/** Units that are words, for one of them. */
const SINGULAR: Readonly<Record<string, string>> = { places: 'place', spots: 'spot', frames: 'frame' };
