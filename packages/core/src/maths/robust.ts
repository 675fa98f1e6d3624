/** Median of a list; `NaN` when it is empty. Works on a copy. */
export const median = (values: ArrayLike<number>): number => quantile(values, 0.5);

/** The value at which half of the weight lies on each side; `NaN` without any. Weights of 0 and above. */
export const weightedMedian = (values: ArrayLike<number>, weights: ArrayLike<number>): number => {
  const order = Array.from({ length: values.length }, (_, i) => i).sort((a, b) => values[a] - values[b]);
  const half = order.reduce((sum, i) => sum + weights[i], 0) / 2;
  let below = 0;
  for (let k = 0; k < order.length; k++) {
    below += weights[order[k]];
    // Between two values where the weight parts just there, as an even count's median lies.
    if (below === half && k + 1 < order.length) return (values[order[k]] + values[order[k + 1]]) / 2;
    if (below > half) return values[order[k]];
  }
  return NaN;
};

/** The `q`-quantile (0–1) with linear interpolation; `NaN` when the list is empty. What is no number comes last. */
export const quantile = (values: ArrayLike<number>, q: number): number => {
  if (values.length === 0) return NaN;
  const at = q * (values.length - 1);
  const low = Math.floor(at);
  if (values.length <= SHORT) {
    const sorted = sortedCopy(values);
    return between(sorted[low], sorted[Math.min(sorted.length - 1, low + 1)], at - low);
  }
  const [copy, numbers] = numbersFirst(values);
  if (low >= numbers) return NaN;
  selectPlace(copy, low, numbers - 1);
  if (at === low) return copy[low];
  if (low + 1 >= numbers) return NaN;
  let next = copy[low + 1];
  for (let i = low + 2; i < numbers; i++) if (copy[i] < next) next = copy[i];
  return between(copy[low], next, at - low);
};

const between = (a: number, b: number, share: number): number => a + (b - a) * share;

/**
 * The value that would stand at a place were the list sorted.
 * @param list of numbers; is put into another order
 * @param count how many of its first are meant
 */
export const atPlace = (list: Float64Array, place: number, count = list.length): number => {
  selectPlace(list, place, count - 1);
  return list[place];
};

/** A copy in which what is no number comes last, and how many numbers there are. */
const numbersFirst = (values: ArrayLike<number>): [Float64Array, number] => {
  const copy = new Float64Array(values.length);
  let numbers = 0;
  for (let i = 0; i < values.length; i++) if (!Number.isNaN(values[i])) copy[numbers++] = values[i];
  copy.fill(NaN, numbers);
  return [copy, numbers];
};

/**
 * Brings the value to its place that would stand there were the list sorted; what is smaller comes before it (Hoare 1961,
 * the middle of three as the pivot).
 */
const selectPlace = (list: Float64Array, place: number, last: number): void => {
  let [from, to] = [0, last];
  while (from < to) {
    const [a, b, c] = [list[from], list[(from + to) >> 1], list[to]];
    const pivot = Math.max(Math.min(a, b), Math.min(Math.max(a, b), c));
    let [i, j] = [from, to];
    while (i <= j) {
      while (list[i] < pivot) i++;
      while (list[j] > pivot) j--;
      if (i > j) break;
      const kept = list[i];
      list[i++] = list[j];
      list[j--] = kept;
    }
    if (place <= j) to = j;
    else if (place >= i) from = i;
    else return;
  }
};

/** A short list is sorted faster by hand than by the engine. */
const SHORT = 40;

const sortedCopy = (values: ArrayLike<number>): Float64Array => {
  if (values.length > SHORT) return Float64Array.from(values).sort();
  const sorted = new Float64Array(values.length);
  for (let i = 0; i < values.length; i++) {
    const v = values[i];
    let at = i;
    // A number that is none goes last, as it does with the engine.
    for (; at > 0 && (sorted[at - 1] > v || Number.isNaN(sorted[at - 1])); at--) sorted[at] = sorted[at - 1];
    sorted[at] = v;
  }
  return sorted;
};

/** Scales the median absolute deviation to the standard deviation of a normal distribution. */
export const MAD_TO_SIGMA = 1.4826;

/** Robust standard deviation: the scaled median absolute deviation from `centre`. */
export const madSigma = (values: ArrayLike<number>, centre = median(values)): number =>
  MAD_TO_SIGMA * median(distancesFrom(values, centre));

const distancesFrom = (values: ArrayLike<number>, centre: number): Float64Array => {
  const distances = new Float64Array(values.length);
  for (let i = 0; i < distances.length; i++) distances[i] = Math.abs(values[i] - centre);
  return distances;
};

/** Tukey's biweight: beyond so many standard deviations nothing counts; 95 % efficient on normal errors (Holland and Welsch 1977). */
export const TUKEY = 4.685;

/** Mean of some values; NaN of none. */
export const mean = (values: ArrayLike<number>): number => {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i];
  return sum / values.length;
};

/**
 * The densest place of a list: the half-sample mode (Bickel and Frühwirth 2006). Where one value is shared by most
 * and the rest lie to one side, it does not lean towards the rest as the median does.
 */
export const halfSampleMode = (values: ArrayLike<number>): number => {
  const sorted = sortedCopy(values);
  let [from, length] = [0, sorted.length];
  while (length > 3) {
    const half = Math.ceil(length / 2);
    let best = from;
    for (let i = from + 1; i + half <= from + length; i++)
      if (sorted[i + half - 1] - sorted[i] < sorted[best + half - 1] - sorted[best]) best = i;
    [from, length] = [best, half];
  }
  if (length < 3) return mean(sorted.subarray(from, from + length));
  const [a, b, c] = [sorted[from], sorted[from + 1], sorted[from + 2]];
  return b - a < c - b ? (a + b) / 2 : (b + c) / 2;
};

const BIWEIGHT_REACH = 3;

/**
 * The level that most of a list shares: starts at the mode and settles by Tukey's biweight.
 * @returns the level, the share of the list that agrees with it, and how far from it that reaches
 */
export const consensus = (
  values: Float64Array,
  leastScale: number,
): { level: number; agreeing: number; reach: number } => {
  let level = halfSampleMode(values);
  const near = distancesFrom(values, level);
  // The scale comes from the closer half, so that a third of outliers cannot widen it.
  const scale =
    Math.max(leastScale, 2.2 * atPlace(near, Math.floor((near.length - 1) * 0.33))) * BIWEIGHT_REACH;
  let agreeing = 0;
  for (let pass = 0; pass < 6; pass++) {
    let sum = 0;
    let weights = 0;
    agreeing = 0;
    for (let i = 0; i < values.length; i++) {
      const v = values[i];
      const u = (v - level) / scale;
      if (Math.abs(u) >= 1) continue;
      const w = (1 - u * u) ** 2;
      sum += w * v;
      weights += w;
      agreeing++;
    }
    if (weights > 0) level = sum / weights;
  }
  return { level, agreeing: agreeing / values.length, reach: scale };
};
