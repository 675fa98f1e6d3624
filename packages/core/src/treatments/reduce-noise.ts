import type { Measurement, Step, ViewingTransform } from '#document';
import type { ClipFacts } from '#terms';
import type { Plane } from '../picture/frame.js';
import { planeScale } from '../picture/signal.js';
import { Averager, type Averaged } from './average.js';
import { byChannel, bySize, keepDetail, type Taken } from './noise-shares.js';
import type { Runner, RunningTreatment } from './runner.js';
import { blankLike, copyOf, type Picture } from './sequence.js';
import { numberOf, type SettingSchemas } from './settings.js';
import type { Study } from './study.js';
import { viewedThrough } from './viewed.js';

/** A strength is a difference up to which something is taken for noise: so many standard deviations of it. */
const LUMA_SIGMAS = 3;
const CHROMA_SIGMAS = 4;
/** What a transform over space takes of noise where there is nothing but noise: a strength of this is all of it. */
const SPATIAL_TAKES = 0.75;
const MOST_FRAMES = 9;

const BEFORE = 'before the viewing transform';
const AFTER = 'after the viewing transform';
const percent = (otherwise: number) =>
  ({ kind: 'number', unit: '%', least: 0, most: 100, step: 5, otherwise }) as const;

const SETTINGS = {
  framesEachSide: { kind: 'number', unit: 'frames', least: 0, most: MOST_FRAMES, step: 1, otherwise: 2 },
  lumaStrengthPct: { kind: 'number', unit: '%', least: 0, most: 40, step: 0.1, otherwise: 3 },
  chromaStrengthPct: { kind: 'number', unit: '%', least: 0, most: 60, step: 0.1, otherwise: 4 },
  spatialStrengthPct: { kind: 'number', unit: '%', least: 0, most: 75, step: 1, otherwise: 0 },
  /** How much of the detail that would go with it must stay. */
  keepDetailPct: percent(0),
  /** How much of what is taken from each channel is taken. */
  redPct: percent(100),
  greenPct: percent(100),
  bluePct: percent(100),
  /** How much of each size of what is taken is taken: about 1 px, about 2 px, 4 px and more. */
  finePct: percent(100),
  mediumPct: percent(100),
  coarsePct: percent(100),
  originalBackPct: percent(0),
  /** Where it stands: the strengths are then those of the picture as it is stored, or as it is viewed. */
  work: { kind: 'choice', options: [BEFORE, AFTER], otherwise: BEFORE },
  worstChannel: { kind: 'choice', options: ['luma', 'red', 'green', 'blue'], otherwise: 'luma' },
} as const satisfies SettingSchemas;

/** Noise is averaged over time along the movement, and what is left over space. */
export const reduceNoise: Runner = {
  treatment: 'reduceNoise',
  settings: SETTINGS,
  swept: 'framesEachSide',
  sweepAbout: (value) =>
    [
      ...new Set(
        [1, 2, value, value + 1, value + 3].map((v) => Math.max(1, Math.min(MOST_FRAMES, Math.round(v)))),
      ),
    ].sort((a, b) => a - b),
  neighbours: (settings) => numberOf(settings, 'framesEachSide'),
  begin: (study, settings, measurement, viewing) => begun(study, [settings], measurement, viewing)[0],
  beginTogether: (study, settings, ...more) => {
    const rest = settings.map((s) => JSON.stringify({ ...s, framesEachSide: 0 }));
    return rest.every((r) => r === rest[0]) ? begun(study, settings, ...more) : null;
  },
};

/** What is made of planes for several numbers of frames: worked out together, and taken one after another. */
class Averages<Made> {
  private readonly made = new Map<string, Averaged<Made>>();
  private readonly reaches: readonly number[];

  /** @param work of a frame and one of its planes, over so many frames on each side, ascending */
  constructor(
    private readonly work: (index: number, p: number, reaches: readonly number[]) => Averaged<Made>[],
    reaches: readonly number[],
    private readonly clock: () => number,
  ) {
    this.reaches = [...new Set(reaches)].sort((a, b) => a - b);
  }

  /** @returns what the caller may change, and ms that the others spared it */
  take(index: number, p: number, reach: number): { made: Made; sparedMs: number } {
    const name = (r: number): string => `${index} ${p} ${r}`;
    const known = this.made.get(name(reach));
    this.made.delete(name(reach));
    if (known) return { made: known.made, sparedMs: known.ms };
    const began = this.clock();
    const all = this.work(index, p, this.reaches);
    const took = this.clock() - began;
    for (const [i, r] of this.reaches.entries()) if (r !== reach) this.made.set(name(r), all[i]);
    const { made, ms } = all[this.reaches.indexOf(reach)];
    return { made, sparedMs: ms - took };
  }

  /** Frames that are done with for everybody. */
  drop(before: number): void {
    for (const name of this.made.keys()) if (parseInt(name, 10) < before) this.made.delete(name);
  }
}

/** What is averaged, and how: the same for all settings that share the work. */
interface Shared {
  readonly study: Study;
  readonly share: ReturnType<typeof sharesOf>;
  readonly reaches: readonly number[];
  readonly clock: () => number;
  /** Standard deviation that is taken for noise in a plane, codes, and the share of what is left that is taken over space. */
  readonly howOf: (p: number) => { readonly sigma: number; readonly spatial: number };
}

/** Settings that differ in how many frames are averaged, at most. */
const begun = (
  study: Study,
  all: readonly Step['settings'][],
  measurement: Measurement,
  viewing?: ViewingTransform,
  clock: () => number = () => 0,
): RunningTreatment[] => {
  const { clip } = study.sequence;
  const [settings] = all;
  const spatial = Math.min(1, numberOf(settings, 'spatialStrengthPct') / 100 / SPATIAL_TAKES);
  const shared: Shared = {
    study,
    share: sharesOf(settings),
    reaches: all.map((s) => numberOf(s, 'framesEachSide')),
    clock,
    howOf: (p) => ({
      sigma: strengthOf(settings, p === 0 || clip.matrix === 'rgb') * planeScale(clip, p).span,
      spatial,
    }),
  };
  const viewed = viewing && settings.work === AFTER ? viewedThrough(viewing, clip) : null;
  return !viewed && shared.share.whole ? averaging(shared) : parting(shared, measurement, viewed);
};

/** Nothing is parted, and nothing viewed: the averages are what comes out. */
const averaging = ({ study, share, reaches, clock, howOf }: Shared): RunningTreatment[] => {
  const { clip, pictures } = study.sequence;
  const averager = new Averager(study);
  const averages = new Averages<Plane>(
    (index, p, framesEachSide) => {
      const { top } = planeScale(clip, p);
      return averager.codes(index, p, { framesEachSide, ...howOf(p), back: share.originalBack, top }, clock);
    },
    reaches,
    clock,
  );
  return reaches.map((reach) =>
    taking(averages, reach, (index, take) => ({
      planes: pictures[index].planes.map((plane, p) => (howOf(p).sigma === 0 ? copyOf(plane) : take(p))),
    })),
  );
};

/** What was averaged away is parted by channel and size before it is taken, or it is looked at as it is viewed. */
const parting = (
  { study, share, reaches, clock, howOf }: Shared,
  measurement: Measurement,
  viewed: ReturnType<typeof viewedThrough> | null,
): RunningTreatment[] => {
  const { clip, pictures } = study.sequence;
  const samplesOf = viewed ? shownBy(viewed, study, Math.max(...reaches)) : undefined;
  const averager = new Averager(study, samplesOf);
  const averages = new Averages<Float32Array>(
    (index, p, framesEachSide) => averager.samples(index, p, { framesEachSide, ...howOf(p) }, clock),
    reaches,
    clock,
  );
  const takenFrom = (plane: Plane, index: number, p: number, take: (p: number) => Float32Array): Taken => {
    const { sigma } = howOf(p);
    const { width, height, samples } = plane;
    if (sigma === 0) return { width, height, samples: new Float32Array(samples.length) };
    const taken = take(p);
    const from = samplesOf?.(index, p) ?? samples;
    for (let i = 0; i < taken.length; i++) taken[i] = from[i] - taken[i];
    const of: Taken = { width, height, samples: taken };
    keepDetail(of, Math.min(sigma, measuredSigma(measurement, clip, p)), share.keepDetail);
    bySize(of, share);
    if (viewed && p === 0) viewed.stored(taken, plane);
    return of;
  };
  return reaches.map((reach) =>
    taking(averages, reach, (index, take) => {
      const { planes } = pictures[index];
      const taken = planes.map((plane, p) => takenFrom(plane, index, p, take));
      byChannel(taken, clip, share);
      return {
        planes: planes.map((plane, p) =>
          without(plane, taken[p].samples, 1 - share.originalBack, planeScale(clip, p).top),
        ),
      };
    }),
  );
};

/** A treatment that takes what was averaged, and keeps count of what the others spared it. */
const taking = <Made>(
  averages: Averages<Made>,
  reach: number,
  treat: (index: number, take: (p: number) => Made) => Picture,
): RunningTreatment => {
  let sparedMs = 0;
  return {
    get sparedMs() {
      return sparedMs;
    },
    treat: (index) => {
      averages.drop(index);
      return treat(index, (p) => {
        const taken = averages.take(index, p, reach);
        sparedMs += taken.sparedMs;
        return taken.made;
      });
    },
  };
};

/** Luma as it is viewed, and the other planes as they are. A frame is looked at by all of its neighbours, one after the other. */
const shownBy = (
  viewed: ReturnType<typeof viewedThrough>,
  { sequence: { pictures } }: Study,
  furthest: number,
) => {
  const shown = new Map<number, Float32Array>();
  return (index: number, p: number): ArrayLike<number> => {
    const plane = pictures[index].planes[p];
    if (p > 0) return plane.samples;
    const known = shown.get(index) ?? viewed.shown(plane);
    for (const other of shown.keys()) if (Math.abs(other - index) > 2 * furthest) shown.delete(other);
    shown.set(index, known);
    return known;
  };
};

/** Noise of a plane as it was measured, codes: a strength may be set far beyond it. */
const measuredSigma = (measurement: Measurement | null, clip: ClipFacts, p: number): number => {
  const noise = measurement?.readings.noise;
  if (noise?.state !== 'measured') return Infinity;
  const { lumaPct, cbPct, crPct, redPct, greenPct, bluePct } = noise.values;
  const own = clip.matrix === 'rgb' ? [greenPct, bluePct, redPct][p] : [lumaPct, cbPct, crPct][p];
  return ((own ?? lumaPct) / 100) * planeScale(clip, p).span;
};

/** Standard deviation that a strength takes for noise, share of the range. */
const strengthOf = (settings: Step['settings'], isLuma: boolean): number =>
  isLuma
    ? numberOf(settings, 'lumaStrengthPct') / LUMA_SIGMAS / 100
    : numberOf(settings, 'chromaStrengthPct') / CHROMA_SIGMAS / 100;

const sharesOf = (settings: Step['settings']) => {
  const share = (name: keyof typeof SETTINGS): number => numberOf(settings, name) / 100;
  const parts = {
    red: share('redPct'),
    green: share('greenPct'),
    blue: share('bluePct'),
    fine: share('finePct'),
    medium: share('mediumPct'),
    coarse: share('coarsePct'),
  };
  const keepDetail = share('keepDetailPct');
  // Nearly always all of it is taken: then nothing needs to be parted.
  const whole = keepDetail === 0 && Object.values(parts).every((part) => part === 1);
  return { ...parts, keepDetail, whole, originalBack: share('originalBackPct') };
};

/** A plane without a share of what was taken from it, in whole codes. About six operations a sample. */
const without = (plane: Plane, taken: Float32Array, share: number, top: number): Plane => {
  const out = blankLike(plane);
  const from = plane.samples;
  const to = out.samples;
  for (let i = 0; i < taken.length; i++) {
    const value = from[i] - share * taken[i] + 0.5;
    // Rounded to the nearest: what is below nothing is cut off.
    to[i] = value < 0 ? 0 : value > top ? top : value | 0;
  }
  return out;
};
