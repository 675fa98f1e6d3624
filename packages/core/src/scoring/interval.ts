import { descriptorOf, type Defect, type Interval } from '#document';

/** How much wider an interval is where nothing at all supports the reading: confidence comes from the same evidence. */
const WIDER = 3;

/**
 * The 90 % interval of a reading: the truth lies inside it in nine of ten clips like those that docs/accuracy.md lists.
 * @param confidence of the reading, 0–1
 * @returns `null` where a figure states none
 */
export const intervalOf = (
  defect: Defect,
  name: string,
  value: number,
  confidence: number,
): Interval | null => {
  const stated = descriptorOf(defect).figures[name]?.interval;
  if (!stated) return null;
  const { share = 0, amount = 0 } = stated;
  const half = (share * Math.abs(value) + amount) * (1 + WIDER * (1 - confidence));
  return { low: plain(Math.max(0, value - half)), high: plain(value + half) };
};

const plain = (v: number): number => Number(v.toPrecision(4));
