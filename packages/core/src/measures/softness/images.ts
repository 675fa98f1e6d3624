import { hann } from '../../maths/hann.js';
import { mean } from '../../maths/robust.js';
import type { Plane } from '../../picture/frame.js';

/** Samples of a line that are looked at together, half of them again with the next. */
const SIZE = 128;
const STEP = SIZE / 2;
const WINDOW = hann(SIZE);
/** Every so many lines, of no more than this much of the middle of a picture. */
const LINE_STEP = 3;
const MOST = { width: 960, height: 540 };
/** The band that is looked at lies so far above the finest detail that the small picture could hold, cycles a sample, … */
const [LOWEST, HIGHEST] = [0.016, 0.05];
/** … and no further than this share of its sampling: what lies further lets little through. */
const WITHIN = 0.15;

/**
 * The images that an enlargement leaves above the finest detail of the small picture. Each frequency just below that limit comes
 * again, mirrored, just above it, always with the same gain (what the interpolation lets through): both are one thing, which no lens
 * draws (cyclic spectra: Gardner 1986). It tells of sizes down from a half, at which nothing else lies above the limit.
 */
export class ImageFinder {
  private kept: Plane | null = null;
  private readonly known = new Map<number, number>();

  /** Keeps the middle of the first picture that it is given. */
  take({ width, height, samples }: Plane): void {
    if (this.kept) return;
    const [w, h] = [Math.min(width, MOST.width), Math.min(height, MOST.height)];
    const [left, top] = [(width - w) >> 1, (height - h) >> 1];
    const middle = new Uint16Array(w * h);
    for (let y = 0; y < h; y++) {
      const from = (top + y) * width + left;
      middle.set(samples.subarray(from, from + w), y * w);
    }
    this.kept = { width: w, height: h, samples: middle };
  }

  /**
   * How strong what lies just above the limit of a small picture is as an image of what lies just below it.
   * @param scale size of the small picture over that of this one, up to a half
   * @returns mean over both directions: 0 and a little where nothing ties them, up to 1 for an interpolation that hides nothing
   */
  gain(scale: number): number {
    const { kept } = this;
    if (!kept || Math.min(kept.width, kept.height) < SIZE) return 0;
    const known = this.known.get(scale) ?? (gainAlong(kept, scale, false) + gainAlong(kept, scale, true)) / 2;
    this.known.set(scale, known);
    return known;
  }
}

/** Waves of one frequency over a part of a line. */
interface Waves {
  readonly cos: Float64Array;
  readonly sin: Float64Array;
}

/** A frequency above the limit and the one below whose image it is; real and imaginary part of their product, and the power below. */
interface Pair {
  readonly above: Waves;
  readonly below: Waves;
  readonly sums: Float64Array;
}

/** @param frequency cycles a sample */
const waves = (frequency: number): Waves => {
  const at = Float64Array.from({ length: SIZE }, (_, n) => 2 * Math.PI * frequency * n);
  return { cos: at.map((v, n) => WINDOW[n] * Math.cos(v)), sin: at.map((v, n) => WINDOW[n] * Math.sin(v)) };
};

const gainAlong = ({ width, height, samples }: Plane, scale: number, down: boolean): number => {
  const [length, lines] = down ? [height, width] : [width, height];
  const [along, across] = down ? [width, 1] : [1, width];
  const pairs: Pair[] = [];
  const highest = scale / 2 + Math.min(HIGHEST, WITHIN * scale);
  for (let k = Math.ceil((scale / 2 + LOWEST) * SIZE); k <= highest * SIZE; k++)
    pairs.push({ above: waves(k / SIZE), below: waves(scale - k / SIZE), sums: new Float64Array(3) });
  const part = new Float64Array(SIZE);
  for (let line = 0; line < lines; line += LINE_STEP)
    for (let from = 0; from + SIZE <= length; from += STEP) {
      let mean = 0;
      for (let n = 0, i = line * across + from * along; n < SIZE; n++, i += along)
        mean += part[n] = samples[i];
      mean /= SIZE;
      for (let n = 0; n < SIZE; n++) part[n] -= mean;
      // Where a part begins turns the phase between the two.
      const turn = 2 * Math.PI * scale * from;
      for (const pair of pairs) addPart(part, pair, Math.cos(turn), Math.sin(turn));
    }
  const gains = pairs.map(({ sums: [re, im, power] }) => (power > 0 ? Math.hypot(re, im) / power : 0));
  return gains.length > 0 ? mean(gains) : 0;
};

/** Adds what one part of a line shows of a pair. */
const addPart = (
  part: Float64Array,
  { above, below, sums }: Pair,
  turnCos: number,
  turnSin: number,
): void => {
  let [ac, as, bc, bs] = [0, 0, 0, 0];
  for (let n = 0; n < SIZE; n++) {
    const v = part[n];
    ac += v * above.cos[n];
    as -= v * above.sin[n];
    bc += v * below.cos[n];
    bs -= v * below.sin[n];
  }
  // The image is mirrored: it turns against what lies below.
  const [re, im] = [ac * bc - as * bs, ac * bs + as * bc];
  sums[0] += re * turnCos + im * turnSin;
  sums[1] += im * turnCos - re * turnSin;
  sums[2] += bc * bc + bs * bs;
};
