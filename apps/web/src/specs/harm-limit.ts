import { HarmLimit, KEPT_FIGURES, NeighbourLimit, type HarmName, type NeighbourName } from '@bevrin/contract';

/** Where only one of the two is said, the other lies this far from it. */
const KEPT_APART = 0.8;
const GROWN_APART = 2;

/** The limits with one in the place of its own, or taken out where it is `null`, in the order of their names. */
export const withNamed = <Name extends string, L extends { readonly name: Name }>(
  limits: readonly L[],
  name: Name,
  limit: L | null,
  order: readonly Name[],
): L[] => {
  const all = [...limits.filter((l) => l.name !== name), ...(limit ? [limit] : [])];
  return all.sort((x, y) => order.indexOf(x.name) - order.indexOf(y.name));
};

/** The two values of a limit as they stand in their fields. */
export interface Typed {
  readonly pass: string;
  readonly fail: string;
}

/**
 * A limit as it was typed. A field that was emptied takes the limit out; where only one of the two is there, the other follows.
 * @param apart how many times `pass` the value `fail` is, where it follows
 * @returns `null` where no limit is wanted, `undefined` where what was typed is none
 */
const typedPair = <Read>(
  typed: keyof Typed,
  texts: Typed,
  apart: number,
  read: (pair: { pass: number; fail: number }) => { success: boolean; data?: Read },
): Read | null | undefined => {
  if (texts[typed] === '') return null;
  const [pass, fail] = [texts.pass, texts.fail].map((t) => (t === '' ? null : Number(t.replace(',', '.'))));
  const tidy = (value: number): number => Number(value.toPrecision(3));
  return read({
    pass: pass ?? tidy((fail ?? NaN) / apart),
    fail: fail ?? tidy((pass ?? NaN) * apart),
  }).data;
};

/** What a repair may cost, as it was typed; see {@link typedPair}. */
export const typedLimit = (name: HarmName, typed: keyof Typed, texts: Typed): HarmLimit | null | undefined =>
  typedPair(typed, texts, KEPT_FIGURES.includes(name) ? KEPT_APART : GROWN_APART, (pair) =>
    HarmLimit.safeParse({ name, ...pair }),
  );

/** How far a clip may differ from the others of its roll, as it was typed; see {@link typedPair}. */
export const typedNeighbour = (
  name: NeighbourName,
  typed: keyof Typed,
  texts: Typed,
): NeighbourLimit | null | undefined =>
  typedPair(typed, texts, GROWN_APART, (pair) => NeighbourLimit.safeParse({ name, ...pair }));
