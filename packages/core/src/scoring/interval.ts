import { descriptorOf, type Defect, type Interval, type Scatter } from '#document';

/** How much wider an interval is where nothing at all supports a reading whose evidence cannot scatter. */
const WIDER = 3;
/** Of a normal distribution, 90 % lie within this many standard errors. */
const NINE_OF_TEN = 1.645;

/**
 * The 90 % interval of a reading: the truth lies inside it in nine of ten clips like those that docs/accuracy.md lists.
 * What stays unknown however good the evidence, and what the scatter of the evidence says, are independent of each other.
 * Where the evidence of a figure cannot scatter, it widens as the confidence falls.
 * @returns `null` where a figure states none
 */
export const intervalOf = (
  defect: Defect,
  name: string,
  value: number,
  { confidence, scatter }: { readonly confidence: number; readonly scatter?: Scatter },
): Interval | null => {
  const stated = descriptorOf(defect).figures[name]?.interval;
  if (!stated) return null;
  const { share = 0, amount = 0 } = stated;
  const always = share * Math.abs(value) + amount;
  const own = scatter?.[name];
  const half =
    own === undefined ? always * (1 + WIDER * (1 - confidence)) : Math.hypot(always, NINE_OF_TEN * own);
  return { low: plain(Math.max(0, value - half)), high: plain(value + half) };
};

const plain = (v: number): number => Number(v.toPrecision(4));
