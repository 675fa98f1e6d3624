import { descriptorOf, type Defect, type Interval, type Scatter } from '#document';
import { halfInterval } from '../measures/uncertainty.js';

/** How much wider an interval is where nothing at all supports a reading whose evidence cannot scatter. */
const WIDER = 3;

/**
 * The 90 % interval of a reading: the truth lies inside it in nine of ten clips like those that docs/accuracy.md lists.
 * Where the evidence of a figure cannot scatter, it widens as the confidence falls.
 * @returns `null` where a figure states none
 */
export const intervalOf = (
  defect: Defect,
  name: string,
  value: number,
  { confidence, scatter }: { readonly confidence: number; readonly scatter?: Scatter },
): Interval | null => {
  const figure = descriptorOf(defect).figures[name];
  const own = scatter?.[name];
  const known = figure ? halfInterval(figure, value, own ?? 0) : null;
  if (known === null) return null;
  const half = own === undefined ? known * (1 + WIDER * (1 - confidence)) : known;
  return { low: plain(Math.max(0, value - half)), high: plain(value + half) };
};

const plain = (v: number): number => Number(v.toPrecision(4));
