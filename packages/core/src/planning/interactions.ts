import { isOfReading, type Finding, type Measurement, type Step } from '#document';
import { round } from './treatment.js';

type Name = Step['treatment'];

/** Two treatments that help or hurt each other, and what follows from it. */
const PAIRS: readonly { readonly first: Name; readonly then: Name; readonly what: string }[] = [
  {
    first: 'deflicker',
    then: 'reduceNoise',
    what: 'Deflicker before the noise is averaged: an average over unsteady light keeps a part of the swing and blurs the rest into the picture.',
  },
  {
    first: 'correctPixels',
    then: 'reduceNoise',
    what: 'Correct the faulty pixels before the noise: averaged with it they turn into soft dots that no list of positions finds.',
  },
  {
    first: 'straightenRows',
    then: 'stabilise',
    what: 'Straighten the rows before you steady: what leans with the movement would wobble in a picture that stands still.',
  },
  {
    first: 'stabilise',
    then: 'rebuildFrames',
    what: 'Steadying leaves the blurred frames behind, and they show more once the picture stands: rebuild them afterwards.',
  },
  {
    first: 'reduceNoise',
    then: 'sharpen',
    what: 'Sharpening brings back a part of the noise: reduce it first, and further than the limit alone would ask for.',
  },
  {
    first: 'reduceNoise',
    then: 'deband',
    what: 'Noise hides steps: with the noise gone, more banding can show. Look at the gradient again before you deband.',
  },
  {
    first: 'reduceNoise',
    then: 'scale',
    what: 'Noise is enlarged with the picture, and grows coarse: reduce it before you scale.',
  },
  {
    first: 'sharpen',
    then: 'grain',
    what: 'Bring grain back after sharpening, not before: it would be steepened with the edges.',
  },
  {
    first: 'stabilise',
    then: 'sharpen',
    what: 'The crop of the steadied picture is enlarged back to full size and grows softer: sharpen after that, once.',
  },
];

/** How the steps of a plan help or hurt each other. */
export const interactionsOf = (steps: readonly Pick<Step, 'treatment'>[]): string[] => {
  const has = new Set(steps.map((s) => s.treatment));
  return PAIRS.filter(({ first, then }) => has.has(first) && has.has(then)).map(({ what }) => what);
};

/** By how much of its strength sharpening raises noise: a mask of 100 % over a flat patch. */
const NOISE_PER_SHARPENING = 0.4;

/** What treated readings come to once every step is done, and not just their own. */
export const afterAll = (
  steps: readonly Step[],
  findings: readonly Finding[],
  measurement: Measurement,
): (Step['expect'] & { defect: Step['defect'] })[] => {
  const results: (Step['expect'] & { defect: Step['defect'] })[] = [];
  for (const { defect, expect } of steps) {
    const before = results.find(isOfReading({ defect, reading: expect.reading }));
    // Each of several steps begins where the one before has left it.
    if (before) before.to = expect.to;
    else results.push({ defect, ...expect });
  }
  const sharpen = steps.find((s) => s.treatment === 'sharpen');
  const strength = Number(sharpen?.settings.strengthPct ?? 0) / 100;
  const crop = 1 / (1 - Math.min(0.5, cropOf(steps) / 100));
  const noise = results.find((r) => r.defect === 'noise');
  const judged = findings.find(isOfReading({ defect: 'noise', reading: 'lumaPct' }));
  if (sharpen && noise) noise.to = round(noise.to * (1 + NOISE_PER_SHARPENING * strength), 3);
  else if (sharpen && judged && measurement.readings.noise.state === 'measured') {
    const { lumaPct } = measurement.readings.noise.values;
    const to = round(lumaPct * (1 + NOISE_PER_SHARPENING * strength), 3);
    results.push({ defect: 'noise', reading: 'lumaPct', unit: '%', from: lumaPct, to });
  }
  // What is cropped is enlarged again, and its blur with it.
  const soft = results.find(isOfReading({ defect: 'softness', reading: 'blurSigmaPx' }));
  if (soft && crop > 1) soft.to = round(soft.to * crop, 3);
  return results;
};

/** Crops lie over each other: the picture left is the product of what each leaves, %. */
export const cropOf = (steps: readonly Pick<Step, 'cost'>[]): number =>
  round(100 * (1 - steps.reduce((left, { cost }) => left * (1 - cost.cropPct / 100), 1)), 1);
