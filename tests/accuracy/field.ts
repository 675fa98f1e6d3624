import { readdir, readFile } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { z } from 'zod';
import { DEFECTS, descriptorOf, type Defect, type DeliverySpec, type Measurement } from '@bevrin/contract';
import { findingsOf } from '@bevrin/core';
import { measureClip } from '@bevrin/media';
import { checkOf, type Check } from './check.js';
import { outcomeOf, type Outcome } from './run.js';
import { placesFound, shareNear, type Place } from './places.js';

/** What is known of a clip that the rig did not draw: a JSON file beside it. Places and blurs in clip pixels. */
const FieldTruth = z
  .object({
    file: z.string(),
    clean: z.boolean(),
    faultyPixels: z.array(z.tuple([z.number(), z.number()])),
    lensSpots: z.array(z.tuple([z.number(), z.number()])),
    specksPerFrame: z.number(),
    banding: z.enum(['there', 'weak', 'not there']),
    bandingBits: z.number(),
    moire: z.enum(['there', 'not there']),
    addedBlurSigmaPx: z.number(),
    scene: z.string(),
    softFrames: z.array(z.number()),
    lampHz: z.number(),
    exposureChanges: z.number(),
    scan: z.string(),
    duplicateFrames: z.number(),
    mustFail: z.array(z.string()),
    mustNotFail: z.array(z.string()),
    mustNotBeMarginal: z.array(z.string()),
  })
  .partial()
  .required({ file: true })
  .catchall(z.unknown());
type FieldTruth = z.infer<typeof FieldTruth>;

interface FieldClip {
  readonly name: string;
  readonly path: string;
  readonly truth: FieldTruth;
  readonly measurement: Measurement;
}

/** Lens spots lie within this of their place, and one may be found that is none, at most. */
const SPOT_WITHIN_PX = 12;
/** An index says that the thing is there from here on, or weakly; below that it is not there. */
const THERE_FROM = 20;
const WEAK_FROM = 1;

const word = (reading: string, truth: string, from: Check['from']): Check => ({
  reading,
  truth,
  unit: '',
  bar: 0,
  goal: 0,
  from,
});
const share = (reading: string, from: Check['from']): Check => ({
  reading,
  truth: 1,
  unit: '',
  bar: 0.1,
  goal: 0.01,
  from,
});
const exactly = (reading: string, truth: number, from: Check['from'], bar = 0): Check => ({
  reading,
  truth,
  unit: '',
  bar,
  goal: 0,
  from,
});

/** A key such as `noise.lumaPct` names a figure of the document. */
const figureOf = (key: string): { defect: Defect; name: string } | null => {
  const [defect, name] = key.split('.');
  const known = DEFECTS.find((d) => d === defect);
  return known && name && name in descriptorOf(known).figures ? { defect: known, name } : null;
};

const figures = (truth: FieldTruth): Check[] =>
  Object.entries(truth).flatMap(([key, value]) => {
    const figure = figureOf(key);
    if (!figure) return [];
    if (typeof value === 'number') return [checkOf(figure.defect, figure.name, value)];
    return [{ reading: key, truth: String(value), unit: '', bar: 0, goal: 0 }];
  });

const places = ({ faultyPixels, lensSpots, specksPerFrame }: FieldTruth): Check[] => {
  const checks: Check[] = [];
  if (faultyPixels) {
    const there = faultyPixels.map(([x, y]): Place => ({ x, y }));
    checks.push(
      share('hotPixels recall', (m) => placesFound(m, (found) => shareNear(there, found))),
      share('hotPixels precision', (m) => placesFound(m, (found) => shareNear(found, there))),
    );
  }
  if (lensSpots) {
    const spotsOf = ({ readings: { hotPixels } }: Measurement): readonly Place[] =>
      hotPixels.state === 'measured' ? (hotPixels.values.spots ?? []) : [];
    const isSeen = (spots: readonly Place[], [x, y]: readonly [number, number]): boolean =>
      spots.some((s) => Math.hypot(s.x - x, s.y - y) <= SPOT_WITHIN_PX);
    checks.push(
      exactly(
        'hotPixels lens spots',
        lensSpots.length,
        (m) => lensSpots.filter((s) => isSeen(spotsOf(m), s)).length,
      ),
      exactly(
        'hotPixels false lens spots',
        0,
        (m) =>
          spotsOf(m).filter(
            (s) => !lensSpots.some(([x, y]) => Math.hypot(s.x - x, s.y - y) <= SPOT_WITHIN_PX),
          ).length,
        1,
      ),
    );
  }
  if (specksPerFrame !== undefined) checks.push(checkOf('hotPixels', 'specksPerFrame', specksPerFrame));
  return checks;
};

const indexOf = (defect: 'banding' | 'moire', { readings }: Measurement): number | null => {
  const reading = readings[defect];
  return reading.state === 'measured' ? reading.values.index : null;
};

const presence = (defect: 'banding' | 'moire', truth: string): Check =>
  word(`${defect} seen`, truth, (m) => {
    const index = indexOf(defect, m);
    if (index === null) return null;
    if (truth === 'weak') return index >= WEAK_FROM ? 'weak' : 'not there';
    return index >= THERE_FROM ? 'there' : 'not there';
  });

const facts = ({ exposureChanges, scan, duplicateFrames, lampHz, softFrames }: FieldTruth): Check[] => {
  const checks: Check[] = [];
  if (exposureChanges !== undefined)
    checks.push(
      exactly('flicker exposure changes', exposureChanges, ({ readings: { flicker } }) =>
        flicker.state === 'measured' ? (flicker.values.exposureChanges?.length ?? null) : null,
      ),
    );
  if (scan !== undefined) checks.push(word('scan seen', scan, ({ clip }) => clip.scanSeen ?? null));
  if (duplicateFrames !== undefined)
    checks.push(exactly('repeated frames', duplicateFrames, ({ clip }) => clip.duplicateFrames, 1));
  if (lampHz !== undefined)
    checks.push(
      word('flicker lamps', 'named', ({ readings: { flicker } }) =>
        flicker.state === 'measured' && flicker.values.lampHz.some((l) => l.lightHz === lampHz)
          ? 'named'
          : 'not named',
      ),
    );
  if (softFrames)
    checks.push(
      word('softness soft frames', softFrames.join(' '), ({ readings: { softness } }) =>
        softness.state === 'measured'
          ? softness.values.softFrames
              .flatMap((r) =>
                Array.from({ length: r.endFrame - r.startFrame + 1 }, (_, i) => r.startFrame + i),
              )
              .join(' ')
          : null,
      ),
    );
  return checks;
};

/** Defects that a delivery spec fails, or finds at least marginal. */
const judgedBy = (
  measurement: Measurement,
  specs: readonly DeliverySpec[],
  verdicts: readonly string[],
): string[] => [
  ...new Set(
    specs
      .flatMap((spec) => findingsOf(measurement, spec))
      .filter((f) => verdicts.includes(f.verdict) && f.defect !== 'conform')
      .map((f) => f.defect),
  ),
];

const NOTHING = 'nothing';
const listed = (names: readonly string[]): string => [...names].sort().join(' ') || NOTHING;

const verdicts = (
  { clean, mustFail, mustNotFail, mustNotBeMarginal }: FieldTruth,
  specs: ReadonlyMap<string, DeliverySpec>,
): Check[] => {
  const all = [...specs.values()];
  const broadcast = all.filter((s) => s.id === 'broadcast-hd');
  /** Of the defects that were judged so, those that count are these and no others. */
  const told = (
    reading: string,
    truth: readonly string[],
    by: readonly DeliverySpec[],
    judged: readonly string[],
    counting: readonly string[] | null,
  ): Check =>
    word(reading, listed(truth), (m) =>
      listed(judgedBy(m, by, judged).filter((d) => counting?.includes(d) ?? true)),
    );
  // Where a person said what must not fail, nothing is known of the rest.
  const known = mustFail && mustNotFail ? [...mustFail, ...mustNotFail] : null;
  return [
    ...(clean ? [told('fails falsely', [], all, ['fail'], null)] : []),
    ...(mustFail ? [told('fails', mustFail, broadcast, ['fail'], known)] : []),
    ...(mustNotFail ? [told('fails falsely', [], all, ['fail'], mustNotFail)] : []),
    ...(mustNotBeMarginal
      ? [told('marginal falsely', [], broadcast, ['marginal', 'fail'], mustNotBeMarginal)]
      : []),
  ];
};

const blurOf = ({ readings: { softness } }: Measurement): number | null =>
  softness.state === 'measured' ? softness.values.blurSigmaPx : null;

/** What is told of a clip by another one of its set. */
const besides = ({ truth }: FieldClip, all: readonly FieldClip[]): Check[] => {
  const checks: Check[] = [];
  const added = truth.addedBlurSigmaPx;
  if (added) {
    const plain = all.find((c) => c.truth.scene === truth.scene && c.truth.addedBlurSigmaPx === 0);
    const own = plain && blurOf(plain.measurement);
    if (typeof own === 'number') checks.push(checkOf('softness', 'blurSigmaPx', Math.hypot(own, added)));
  }
  const bits = truth.bandingBits;
  if (bits !== undefined) {
    const finer = all.find((c) => c.truth.scene === truth.scene && c.truth.bandingBits === bits + 1);
    const least = finer && indexOf('banding', finer.measurement);
    if (typeof least === 'number')
      checks.push(
        word('banding order', 'rises', (m) => ((indexOf('banding', m) ?? -1) > least ? 'rises' : 'does not')),
      );
  }
  return checks;
};

const filesIn = async (folder: string): Promise<string[]> =>
  (await readdir(folder, { recursive: true }))
    .filter((name) => name.endsWith('.json'))
    .sort()
    .map((name) => join(folder, name));

/** @throws naming the file and the first thing in it that is wrong */
const truthIn = async (json: string): Promise<FieldTruth> => {
  const parsed = FieldTruth.safeParse(JSON.parse(await readFile(json, 'utf8')));
  if (parsed.success) return parsed.data;
  const [{ path, message }] = parsed.error.issues;
  throw new Error(`${json}: ${path.join('.')}: ${message}`);
};

/**
 * Measures the clips of a folder that have their truth beside them.
 * @param told hears of each clip that was measured
 * @param measure how a clip is measured
 * @throws where the folder is not there, or a truth does not read
 */
export const fieldOutcomes = async (
  folder: string,
  specs: ReadonlyMap<string, DeliverySpec>,
  told: (name: string) => void,
  measure: (path: string) => Promise<Measurement> = measureClip,
): Promise<Outcome[]> => {
  const clips: FieldClip[] = [];
  for (const json of await filesIn(folder)) {
    const truth = await truthIn(json);
    const path = join(dirname(json), truth.file);
    clips.push({ name: basename(json, '.json'), path, truth, measurement: await measure(path) });
    told(basename(json, '.json'));
  }
  return clips.flatMap((clip) => {
    const { truth, name, measurement } = clip;
    const checks = [
      ...figures(truth),
      ...places(truth),
      ...(truth.banding ? [presence('banding', truth.banding)] : []),
      ...(truth.moire ? [presence('moire', truth.moire)] : []),
      ...facts(truth),
      ...verdicts(truth, specs),
      ...besides(clip, clips),
    ];
    return checks.map((check) => outcomeOf('field', name, check, measurement));
  });
};
