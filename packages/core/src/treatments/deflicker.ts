import type { ClipFacts } from '#terms';
import { BANDS, LightFollower } from '../measures/flicker/light.js';
import { atPlace } from '../maths/robust.js';
import { prepare, register } from '../motion/register.js';
import { halve, type Level } from '../picture/pyramid.js';
import { chromaScale } from '../picture/signal.js';
import type { LightCode } from './light-code.js';
import type { Runner } from './runner.js';
import { codeOf, copyOf, type Picture } from './sequence.js';
import { numberOf } from './settings.js';
import type { Study } from './study.js';

/** Light is followed at about this width. */
const FOLLOWED_WIDTH = 340;
const WHOLE_FRAME = 'whole frame';
const ROW_BANDS = 'row bands';
const MOST_WINDOW = 30;

/** Light is brought to its mean over a window of frames, in the whole frame or row by row. */
export const deflicker: Runner = {
  treatment: 'deflicker',
  settings: {
    framesEachSide: { kind: 'number', unit: 'frames', least: 1, most: MOST_WINDOW, step: 1, otherwise: 6 },
    by: { kind: 'choice', options: [WHOLE_FRAME, ROW_BANDS], otherwise: WHOLE_FRAME },
    bandsOverHeight: { kind: 'number', unit: 'bands', least: 2, most: BANDS, step: 1, otherwise: BANDS },
    motionCompensation: { kind: 'flag', otherwise: true },
    strengthPct: { kind: 'number', unit: '%', least: 0, most: 100, step: 5, otherwise: 100 },
    passes: { kind: 'number', unit: 'passes', least: 1, most: 2, step: 1, otherwise: 1 },
  },
  changesLight: true,
  judgedOverFrames: 40,
  swept: 'framesEachSide',
  sweepAbout: (value) =>
    [
      ...new Set(
        [0.5, 0.75, 1, 1.5, 2].map((k) => Math.max(1, Math.min(MOST_WINDOW, Math.round(k * value)))),
      ),
    ].sort((a, b) => a - b),
  neighbours: (settings) => numberOf(settings, 'framesEachSide') * numberOf(settings, 'passes'),
  begin: (study, settings) => {
    const light = lightOf(study, settings.motionCompensation === true);
    const window = numberOf(settings, 'framesEachSide');
    let target = smoothed(light, window);
    if (numberOf(settings, 'passes') === 2) target = smoothed(target, window);
    const strength = numberOf(settings, 'strengthPct') / 100;
    const whole = settings.by === WHOLE_FRAME;
    const code = new Relighter(study.sequence.clip, study.light);
    return {
      treat: (index) => {
        const gains = Float64Array.from(light[index], (v, band) => strength * (target[index][band] - v));
        if (whole) gains.fill(middleOf(gains));
        return code.relit(
          study.sequence.pictures[index],
          bandwise(gains, numberOf(settings, 'bandsOverHeight'), whole),
        );
      },
    };
  },
};

const middleOf = (values: Float64Array): number => atPlace(values.slice(), values.length >> 1);

/** Bands that were asked for: fewer than are followed are means of those that they hold. */
const bandwise = (gains: Float64Array, bands: number, whole: boolean): Float64Array => {
  if (whole || bands >= gains.length) return gains;
  return Float64Array.from({ length: bands }, (_, b) => {
    const part = gains.subarray(
      Math.floor((b * gains.length) / bands),
      Math.max(Math.floor((b * gains.length) / bands) + 1, Math.floor(((b + 1) * gains.length) / bands)),
    );
    return part.reduce((s, v) => s + v, 0) / part.length;
  });
};

/** Log light of each row band of each frame, from the first frame on. */
const lightOf = (study: Study, followsCamera: boolean): Float64Array[] => {
  const { clip } = study.sequence;
  const follower = new LightFollower(clip);
  const scale = 2 ** (16 - clip.bitDepth);
  let sum = new Float64Array(BANDS);
  let before: ReturnType<typeof prepare> | null = null;
  return Array.from({ length: study.count }, (_, i) => {
    let small: Level = study.half(i);
    while (small.width > FOLLOWED_WIDTH) small = halve(small);
    const picture = { ...small, samples: small.samples.map((v) => v * scale) };
    const levels = prepare(picture);
    const motion = followsCamera && before ? register(before, levels) : null;
    before = levels;
    const step = follower.take(picture, levels[0], motion);
    // Where the light could not be followed it is taken to have stayed.
    if (i > 0 && step) sum = sum.map((v, band) => v + step.light[band]);
    return sum.slice();
  });
};

/** Mean over a window on each side; at the ends of the clip over what there is of it. */
const smoothed = (light: readonly Float64Array[], window: number): Float64Array[] =>
  light.map((own, t) => {
    const [from, to] = [Math.max(0, t - window), Math.min(light.length - 1, t + window)];
    const mean = new Float64Array(own.length);
    for (let k = from; k <= to; k++) light[k].forEach((v, band) => (mean[band] += v));
    return mean.map((v) => v / (to - from + 1));
  });

/** Multiplies the light of pictures, in whatever transfer they are stored. */
class Relighter {
  constructor(
    private readonly clip: ClipFacts,
    private readonly light: LightCode,
  ) {}

  /** @param gains log of the factor of each row band from the top to the bottom; between their middles it runs straight */
  relit(picture: Picture, gains: Float64Array): Picture {
    const rgb = this.clip.matrix === 'rgb';
    const { black, top, lights } = this.light;
    const neutral = chromaScale(this.clip).black;
    const tables = new Map<number, Float64Array>();
    const tableFor = (log: number): Float64Array => {
      const key = Math.round(log * 2000);
      const known = tables.get(key);
      if (known) return known;
      const factor = Math.exp(key / 2000);
      const table = lights.map((light, code) => (code <= black ? code : this.light.codeOf(light * factor)));
      tables.set(key, table);
      return table;
    };
    return {
      planes: picture.planes.map((plane, p) => {
        const out = copyOf(plane);
        const { width, height, samples } = plane;
        for (let y = 0; y < height; y++) {
          const at = ((y + 0.5) / height) * gains.length - 0.5;
          const low = Math.max(0, Math.min(gains.length - 1, Math.floor(at)));
          const high = Math.min(gains.length - 1, low + 1);
          const share = Math.max(0, Math.min(1, at - low));
          const table = tableFor(gains[low] + (gains[high] - gains[low]) * share);
          if (p === 0 || rgb)
            for (let i = y * width, end = i + width; i < end; i++)
              out.samples[i] = codeOf(table[samples[i]], top);
          else {
            // Colour differences go with the signal, which a factor of light multiplies by nearly the same at all levels.
            const middle = Math.round(black + 0.45 * (top - black));
            const factor = (table[middle] - black) / (middle - black);
            for (let i = y * width, end = i + width; i < end; i++)
              out.samples[i] = codeOf(neutral + (samples[i] - neutral) * factor, top);
          }
        }
        return out;
      }),
    };
  }
}
