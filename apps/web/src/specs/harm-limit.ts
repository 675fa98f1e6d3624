import { HarmLimit, KEPT_FIGURES, type HarmName } from '@bevrin/contract';

/** Where only one of the two is said, the other lies this far from it. */
const KEPT_APART = 0.8;
const GROWN_APART = 2;

/**
 * A limit as it was typed. A field that was emptied takes the limit out; where only one of the two is there, the other follows.
 * @returns `null` where no limit is wanted, `undefined` where what was typed is none
 */
export const typedLimit = (
  name: HarmName,
  typed: 'pass' | 'fail',
  texts: { readonly pass: string; readonly fail: string },
): HarmLimit | null | undefined => {
  if (texts[typed] === '') return null;
  const [pass, fail] = [texts.pass, texts.fail].map((t) => (t === '' ? null : Number(t.replace(',', '.'))));
  const apart = KEPT_FIGURES.includes(name) ? KEPT_APART : GROWN_APART;
  const tidy = (value: number): number => Number(value.toPrecision(3));
  const read = HarmLimit.safeParse({
    name,
    pass: pass ?? tidy((fail ?? NaN) / apart),
    fail: fail ?? tidy((pass ?? NaN) * apart),
  });
  return read.success ? read.data : undefined;
};
