import type { Summary } from '#document';

/** A clip of a batch as it is set beside the others. */
export interface Neighbour {
  readonly id: string;
  readonly name: string;
  readonly summary: Pick<Summary, 'findings'> | null;
}

/** How a clip differs from what stands beside it. */
export interface Beside {
  readonly defect: 'softness' | 'noise';
  /** Its reading over the median of the others: above 1 softer, or noisier. */
  readonly times: number;
  /** What the others have in common by name, and how many of them were measured. */
  readonly roll: string;
  readonly others: number;
}

/**
 * The readings that are set beside each other, and from how many times the median on a difference is told: edges half as wide
 * again and more, noise twice or half as strong. Differences below `unseen` are seen by nobody.
 */
const COMPARED = [
  { defect: 'softness', reading: 'blurSigmaPx', more: 1.6, less: 0, unseen: 0.3 },
  { defect: 'noise', reading: 'lumaPct', more: 2, less: 0.5, unseen: 0.2 },
] as const;
/** Of fewer others a median says nothing. */
const LEAST_OTHERS = 3;

/** The roll or scene of a clip: the first word of its name, as cameras and houses give it. */
const rollOf = (name: string): string => /^[\p{L}\p{N}]+/u.exec(name)?.[0].toUpperCase() ?? '';

/** The median of an ascending list without one of its values. */
const medianWithout = (sorted: readonly number[], value: number): number => {
  const at = sorted.indexOf(value);
  const left = (i: number): number => sorted[i < at ? i : i + 1];
  const count = sorted.length - 1;
  return (left((count - 1) >> 1) + left(count >> 1)) / 2;
};

/** Clips that are much softer, noisier or cleaner than the others of their roll, by their ids. */
export const besideOf = (clips: readonly Neighbour[]): Map<string, Beside[]> => {
  const rolls = new Map<string, Neighbour[]>();
  for (const clip of clips) {
    const own = rolls.get(rollOf(clip.name)) ?? [];
    own.push(clip);
    rolls.set(rollOf(clip.name), own);
  }
  rolls.delete('');
  const found = new Map<string, Beside[]>();
  for (const [roll, own] of rolls)
    for (const { defect, reading, more, less, unseen } of COMPARED) {
      const known = own.flatMap(({ id, summary }) => {
        const value = summary?.findings.find((f) => f.defect === defect && f.reading === reading)?.value;
        return value === null || value === undefined ? [] : [{ id, value: Math.max(unseen, value) }];
      });
      if (known.length <= LEAST_OTHERS) continue;
      const sorted = known.map((k) => k.value).sort((a, b) => a - b);
      for (const { id, value } of known) {
        const times = value / medianWithout(sorted, value);
        if (times > less && times < more) continue;
        const told = { defect, times, roll, others: known.length - 1 };
        found.set(id, [...(found.get(id) ?? []), told]);
      }
    }
  return found;
};
