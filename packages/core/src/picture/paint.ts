import type { ClipFacts } from '#terms';
import type { Plane } from './frame.js';
import { chromaScale, lumaScale, lumaWeights } from './signal.js';
import type { Transform } from './viewing.js';

/** What of a picture is shown: its colours, or one channel of it as grey. */
export const SHOWN_CHANNELS = ['colour', 'luma', 'cb', 'cr', 'red', 'green', 'blue'] as const;
export type ShownChannel = (typeof SHOWN_CHANNELS)[number];

/** Entries along each side of a transform's table. */
const TABLE = 33;
/** No colour, and half of a colour difference, as grey. */
const MIDDLE = 127.5;

/**
 * A viewing transform worked out at the corners of a grid, so that millions of pixels can be sent through it.
 * Between corners it is linear along the six tetrahedra of each cell (Kasson, Nin, Plouffe and Hafner 1995).
 */
export const tableOf = (transform: Transform): Float32Array => {
  const table = new Float32Array(3 * TABLE ** 3);
  let i = 0;
  for (let b = 0; b < TABLE; b++)
    for (let g = 0; g < TABLE; g++)
      for (let r = 0; r < TABLE; r++)
        for (const v of transform([r / (TABLE - 1), g / (TABLE - 1), b / (TABLE - 1)])) table[i++] = v;
  return table;
};

/**
 * Turns the stored code values of a frame into what a screen shows: R′G′B′ through the clip's own matrix and range, 8 bits,
 * rounded to the nearest. Chroma of fewer samples lies with every second luma sample along a row and between two rows
 * (left-sited, as broadcast and H.26x store it), and is linear in between; shown on its own, each sample is shown as it is.
 * About 15 operations a pixel, 40 with a table.
 * @param planes Y Cb Cr, G B R where the matrix is `rgb`, or luma alone
 * @param table from {@link tableOf}; `null` shows the picture as it is
 * @param out RGBA, four bytes a pixel
 */
export const paint = (
  planes: readonly Plane[],
  facts: Pick<ClipFacts, 'bitDepth' | 'range' | 'matrix'>,
  shown: ShownChannel,
  table: Float32Array | null,
  out: Uint8ClampedArray,
): void => {
  const [{ width, height }] = planes;
  if (!table && paintStored(planes, facts, shown, out)) return;
  const rows = rgbRows(planes, facts);
  const weights = lumaWeights(facts.matrix);
  const [r, g, b] = [new Float32Array(width), new Float32Array(width), new Float32Array(width)];
  const words = wordsOf(out, width * height);
  for (let y = 0; y < height; y++) {
    rows(y, r, g, b);
    if (table) throughTable(table, r, g, b);
    if (shown === 'colour') colourRow(r, g, b, words, y * width);
    else greyRow(shown, weights, r, g, b, words, y * width);
  }
};

/** RGBA as one word a pixel, least byte first as on every machine that runs a browser: four times as fast to write. */
const wordsOf = (out: Uint8ClampedArray, pixels: number): Uint32Array =>
  new Uint32Array(out.buffer, out.byteOffset, pixels);
const OPAQUE = 0xff000000;

const colourRow = (r: Row, g: Row, b: Row, out: Uint32Array, from: number): void => {
  for (let x = 0; x < r.length; x++) {
    let red = (255 * r[x] + 0.5) | 0;
    let green = (255 * g[x] + 0.5) | 0;
    let blue = (255 * b[x] + 0.5) | 0;
    red = red < 0 ? 0 : red > 255 ? 255 : red;
    green = green < 0 ? 0 : green > 255 ? 255 : green;
    blue = blue < 0 ? 0 : blue > 255 ? 255 : blue;
    out[from + x] = OPAQUE | (blue << 16) | (green << 8) | red;
  }
};

/** Grey of 0–255 as a pixel. */
const greyWord = (value: number): number => {
  let v = (value + 0.5) | 0;
  v = v < 0 ? 0 : v > 255 ? 255 : v;
  return OPAQUE | (v << 16) | (v << 8) | v;
};

/**
 * Paints a stored plane as grey, where what is wished for is stored: no arithmetic stands between it and the eye.
 * @returns whether it is
 */
const paintStored = (
  planes: readonly Plane[],
  facts: Pick<ClipFacts, 'bitDepth' | 'range' | 'matrix'>,
  shown: ShownChannel,
  out: Uint8ClampedArray,
): boolean => {
  const rgb = facts.matrix === 'rgb';
  const index = rgb
    ? ({ green: 0, blue: 1, red: 2 } as Partial<Record<ShownChannel, number>>)[shown]
    : ({ luma: 0, cb: 1, cr: 2 } as Partial<Record<ShownChannel, number>>)[shown];
  if (index === undefined) return false;
  const [{ width, height }] = planes;
  const plane = planes[index];
  const words = wordsOf(out, width * height);
  if (!plane) {
    words.fill(greyWord(MIDDLE));
    return true;
  }
  const difference = !rgb && index > 0;
  const scale = difference ? chromaScale(facts) : lumaScale(facts);
  const [k, lift] = [255 / scale.span, difference ? MIDDLE : 0];
  const [stepX, stepY] = [Math.round(width / plane.width), Math.round(height / plane.height)];
  const { samples } = plane;
  for (let y = 0, o = 0; y < height; y++) {
    const row = Math.min(plane.height - 1, Math.floor(y / stepY)) * plane.width;
    for (let x = 0; x < width; x++)
      words[o++] = greyWord((samples[row + (stepX === 1 ? x : (x / stepX) | 0)] - scale.black) * k + lift);
  }
  return true;
};

type Row = Float32Array;

/** Reads rows of R′G′B′, 0–1 of range; beyond it where the codes are. */
export const rgbRows = (
  planes: readonly Plane[],
  facts: Pick<ClipFacts, 'bitDepth' | 'range' | 'matrix'>,
): ((y: number, r: Row, g: Row, b: Row) => void) => {
  const [first, second, third] = planes;
  const { width } = first;
  const { black, span } = lumaScale(facts);
  const k = 1 / span;
  if (facts.matrix === 'rgb' && second && third)
    return (y, r, g, b) => {
      for (let x = 0, i = y * width; x < width; x++, i++) {
        g[x] = (first.samples[i] - black) * k;
        b[x] = (second.samples[i] - black) * k;
        r[x] = (third.samples[i] - black) * k;
      }
    };
  if (!second || !third)
    return (y, r, g, b) => {
      for (let x = 0, i = y * width; x < width; x++, i++) r[x] = g[x] = b[x] = (first.samples[i] - black) * k;
    };
  const chroma = chromaScale(facts);
  const { kr, kb } = lumaWeights(facts.matrix);
  const kg = 1 - kr - kb;
  const [toRed, toBlue] = [(2 * (1 - kr)) / chroma.span, (2 * (1 - kb)) / chroma.span];
  const [fromRed, fromBlue] = [(toRed * kr) / kg, (toBlue * kb) / kg];
  const { samples } = first;
  const [cb, cr] = [new Float32Array(width), new Float32Array(width)];
  const readCb = chromaRow(second, first, chroma.black);
  const readCr = chromaRow(third, first, chroma.black);
  return (y, r, g, b) => {
    readCb(y, cb);
    readCr(y, cr);
    colourRowOf(samples, y * width, black, k, cr, cb, toRed, toBlue, fromRed, fromBlue, r, g, b);
  };
};

/** The inner loop, with all that it reads handed in: what a closure holds is read anew at each pixel. */
const colourRowOf = (
  samples: Plane['samples'],
  from: number,
  black: number,
  k: number,
  cr: Row,
  cb: Row,
  toRed: number,
  toBlue: number,
  fromRed: number,
  fromBlue: number,
  r: Row,
  g: Row,
  b: Row,
): void => {
  for (let x = 0; x < r.length; x++) {
    const luma = (samples[from + x] - black) * k;
    const u = cb[x];
    const v = cr[x];
    r[x] = luma + v * toRed;
    b[x] = luma + u * toBlue;
    g[x] = luma - v * fromRed - u * fromBlue;
  }
};

const chromaRow = (plane: Plane, luma: Plane, middle: number): ((y: number, out: Row) => void) => {
  const stepX = Math.round(luma.width / plane.width);
  const stepY = Math.round(luma.height / plane.height);
  const { width, height, samples } = plane;
  const row = new Float32Array(width + 1);
  return (y, out) => {
    // Samples lie in the middle of the rows that they stand for.
    const v = Math.max(0, Math.min(height - 1, (y + 0.5) / stepY - 0.5));
    const top = Math.floor(v);
    const down = v - top;
    const above = top * width;
    const below = Math.min(height - 1, top + 1) * width;
    if (down === 0) for (let x = 0; x < width; x++) row[x] = samples[above + x] - middle;
    else
      for (let x = 0; x < width; x++)
        row[x] = samples[above + x] * (1 - down) + samples[below + x] * down - middle;
    row[width] = row[width - 1];
    if (stepX === 1) {
      out.set(row.subarray(0, out.length));
      return;
    }
    if (stepX === 2) {
      for (let c = 0, o = 0; c < width; c++, o += 2) {
        out[o] = row[c];
        out[o + 1] = 0.5 * (row[c] + row[c + 1]);
      }
      return;
    }
    const share = 1 / stepX;
    for (let c = 0, o = 0; c < width; c++) {
      const here = row[c];
      const slope = (row[c + 1] - here) * share;
      for (let s = 0; s < stepX && o < out.length; s++) out[o++] = here + slope * s;
    }
  };
};

const throughTable = (table: Float32Array, r: Row, g: Row, b: Row): void => {
  const side = TABLE - 1;
  const [alongR, alongG, alongB] = [3, 3 * TABLE, 3 * TABLE * TABLE];
  for (let x = 0; x < r.length; x++) {
    const pr = Math.max(0, Math.min(side, r[x] * side));
    const pg = Math.max(0, Math.min(side, g[x] * side));
    const pb = Math.max(0, Math.min(side, b[x] * side));
    const ir = Math.min(side - 1, pr | 0);
    const ig = Math.min(side - 1, pg | 0);
    const ib = Math.min(side - 1, pb | 0);
    const fr = pr - ir;
    const fg = pg - ig;
    const fb = pb - ib;
    const base = ir * alongR + ig * alongG + ib * alongB;
    const far = base + alongR + alongG + alongB;
    // From the near corner to the far one, along the axes in the order of their fractions.
    let high = fr;
    let one = alongR;
    let mid = fg;
    let two = alongG;
    let low = fb;
    if (high < mid) {
      high = fg;
      one = alongG;
      mid = fr;
      two = alongR;
    }
    if (mid < low) {
      low = mid;
      mid = fb;
      two = alongB;
    }
    if (high < mid) {
      const [first, along] = [mid, two];
      mid = high;
      two = one;
      high = first;
      one = along;
    }
    two += one;
    const a = 1 - high;
    const b1 = high - mid;
    const c1 = mid - low;
    const d = low;
    r[x] = table[base] * a + table[base + one] * b1 + table[base + two] * c1 + table[far] * d;
    g[x] = table[base + 1] * a + table[base + one + 1] * b1 + table[base + two + 1] * c1 + table[far + 1] * d;
    b[x] = table[base + 2] * a + table[base + one + 2] * b1 + table[base + two + 2] * c1 + table[far + 2] * d;
  }
};

const greyRow = (
  shown: Exclude<ShownChannel, 'colour'>,
  { kr, kb }: { kr: number; kb: number },
  r: Row,
  g: Row,
  b: Row,
  out: Uint32Array,
  from: number,
): void => {
  // Each of them is a weighted sum of the three.
  const luma = [kr, 1 - kr - kb, kb];
  const difference = (of: readonly number[], span: number): number[] =>
    of.map((v, i) => (v - luma[i]) / span);
  const [wr, wg, wb] = {
    luma,
    red: [1, 0, 0],
    green: [0, 1, 0],
    blue: [0, 0, 1],
    cb: difference([0, 0, 1], 2 * (1 - kb)),
    cr: difference([1, 0, 0], 2 * (1 - kr)),
  }[shown].map((w) => 255 * w);
  const lift = shown === 'cb' || shown === 'cr' ? MIDDLE : 0;
  for (let x = 0; x < r.length; x++) out[from + x] = greyWord(wr * r[x] + wg * g[x] + wb * b[x] + lift);
};
