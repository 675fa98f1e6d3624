import { boxAbout, Sweep, type Box, type Overrides } from '@bevrin/contract';
import { settingName } from '../../parts/format.js';

export type Place = 'planned' | 'whole' | 'interest' | 'masks' | 'notMasks';
export const PLACE_NAMES: Record<Place, string> = {
  planned: 'as planned',
  whole: 'the whole picture',
  interest: 'in the region of interest',
  masks: 'in the masks',
  notMasks: 'not in the masks',
};

export interface Where {
  readonly place: Place;
  readonly regions: number[][];
  readonly keepFrom: boolean;
}

/** Where a treatment may work, by what was drawn on the clip; masks by the boxes about them. */
export const placesOf = ({ interest, masks = [] }: Overrides): Where[] => {
  const rowOf = ({ x, y, width, height }: Box): number[] => [x, y, width, height];
  const boxes = masks.map(({ shape }) => rowOf(boxAbout(shape)));
  return [
    { place: 'whole', regions: [], keepFrom: false },
    ...(interest
      ? [
          {
            place: 'interest' as const,
            regions: [rowOf(interest)],
            keepFrom: false,
          },
        ]
      : []),
    ...(boxes.length > 0
      ? [
          { place: 'masks' as const, regions: boxes, keepFrom: false },
          { place: 'notMasks' as const, regions: boxes, keepFrom: true },
        ]
      : []),
  ];
};

const figuresIn = (text: string): number[] =>
  text
    .split(/[\s;,]+/)
    .filter(Boolean)
    .map(Number);

/** What is to be compared, nothing where nothing was asked for, or a sentence on what is wrong. */
export const sweepFrom = (
  key: string,
  values: string,
  second: { readonly key: string; readonly values: string },
): Sweep | string | undefined => {
  const [first, other] = [figuresIn(values), second.key ? figuresIn(second.values) : []];
  if ([...first, ...other].some((v) => !Number.isFinite(v)) || Math.max(first.length, other.length) > 9)
    return 'Values to compare: up to nine figures, with commas between them.';
  if (other.length > 0 && first.length === 0)
    return `Name values of ${settingName(key)} too: each is tried with each.`;
  if (first.length === 0) return undefined;
  const read = Sweep.safeParse({
    key,
    values: first,
    ...(other.length > 0 && { and: { key: second.key, values: other } }),
  });
  return read.success ? read.data : read.error.issues[0].message;
};
