import type { ClipFacts, ViewingTransform } from '#terms';
import { lumaWeights, toLinearLight } from './signal.js';

/** Red, green and blue signal, 0–1 of range, before and after. */
export type Transform = (rgb: readonly [number, number, number]) => [number, number, number];

/** A `.cube` table that does not say what it must: which line, and what is wrong. */
export class CubeUnusable extends Error {
  override readonly name = 'CubeUnusable';
}

/**
 * Reads a colour look-up table, one- or three-dimensional, as the `.cube` text format of 2013 lays down: `LUT_1D_SIZE` or
 * `LUT_3D_SIZE`, `DOMAIN_MIN`, `DOMAIN_MAX`, then triples with red changing fastest. Between entries it interpolates
 * linearly.
 * @throws {CubeUnusable} naming the line
 */
export const parseCube = (text: string, name: string): Transform => interpolating(readCube(text, name));

/** A table as its file says it: entries of three, red changing fastest; `cube` for a three-dimensional one. */
interface Cube {
  readonly size: number;
  readonly cube: boolean;
  readonly low: readonly number[];
  readonly high: readonly number[];
  readonly entries: readonly number[];
}

const readCube = (text: string, name: string): Cube => {
  let [size1, size3] = [0, 0];
  let low = [0, 0, 0];
  let high = [1, 1, 1];
  const entries: number[] = [];
  text.split(/\r?\n/).forEach((line, n) => {
    const words = line.trim().split(/\s+/);
    const [key] = words;
    if (key === '' || key.startsWith('#') || key === 'TITLE') return;
    const wrong = (what: string): never => {
      throw new CubeUnusable(`${name}, line ${n + 1}: ${what}`);
    };
    const numbers = (from: number): number[] => {
      const values = words.slice(from).map(Number);
      return values.length === 0 || values.some((v) => !Number.isFinite(v))
        ? wrong('a number is missing or malformed.')
        : values;
    };
    if (key === 'LUT_1D_SIZE') [size1] = numbers(1);
    else if (key === 'LUT_3D_SIZE') [size3] = numbers(1);
    else if (key === 'DOMAIN_MIN') low = numbers(1);
    else if (key === 'DOMAIN_MAX') high = numbers(1);
    else if (/^[-+.\d]/.test(key)) {
      const values = numbers(0);
      if (values.length !== 3) wrong(`three numbers are expected, ${values.length} found.`);
      entries.push(...values);
    } else wrong(`"${key}" is not a word of this format.`);
  });
  const size = size1 || size3;
  if (!Number.isInteger(size) || size < 2 || size > (size1 ? 65536 : 256))
    throw new CubeUnusable(`${name}: it names no table size between 2 and ${size1 ? 65536 : 256}.`);
  const count = size1 ? size : size ** 3;
  if (entries.length !== 3 * count)
    throw new CubeUnusable(
      `${name}: ${count} entries are announced, ${entries.length / 3} are there. Export it again.`,
    );
  if (low.length !== 3 || high.length !== 3 || high.some((h, c) => !(h > low[c])))
    throw new CubeUnusable(`${name}: its domain is empty.`);
  return { size, cube: size1 === 0, low, high, entries };
};

/** The transform of a table: linear between its entries. */
const interpolating = ({ size, cube, low, high, entries }: Cube): Transform => {
  const position = (v: number, c: number): { at: number; share: number } => {
    const p = Math.max(0, Math.min(1, (v - low[c]) / (high[c] - low[c]))) * (size - 1);
    const at = Math.min(size - 2, Math.floor(p));
    return { at, share: p - at };
  };
  if (!cube)
    return (rgb) =>
      rgb.map((v, c) => {
        const { at, share } = position(v, c);
        return entries[3 * at + c] * (1 - share) + entries[3 * at + 3 + c] * share;
      }) as [number, number, number];
  return (rgb) => {
    const [r, g, b] = rgb.map(position);
    const out: [number, number, number] = [0, 0, 0];
    for (let k = 0; k < 8; k++) {
      const [i, j, l] = [k & 1, (k >> 1) & 1, k >> 2];
      const weight = (i ? r.share : 1 - r.share) * (j ? g.share : 1 - g.share) * (l ? b.share : 1 - b.share);
      const entry = 3 * (r.at + i + size * (g.at + j + size * (b.at + l)));
      for (let c = 0; c < 3; c++) out[c] += weight * entries[entry + c];
    }
    return out;
  };
};

/** ITU-R BT.709-6 transfer, from light to signal. */
const toSignal = (light: number): number =>
  light < 0.018 ? 4.5 * light : 1.099 * Math.pow(light, 0.45) - 0.099;

/**
 * The transform that a technician chose. A lift raises the exposure by so many stops in linear light; lift and gain
 * move black and white of the signal. What goes beyond white is clipped.
 * @throws {CubeUnusable}
 */
export const transformOf = (viewing: ViewingTransform, transfer: ClipFacts['transfer']): Transform => {
  if (viewing.kind === 'cube') return parseCube(viewing.text, viewing.name);
  if (viewing.kind === 'liftGain') {
    const { lift, gain } = viewing;
    const through = (v: number): number => Math.max(0, Math.min(1, gain * (v + lift * (1 - v))));
    return ([r, g, b]) => [through(r), through(g), through(b)];
  }
  const gain = 2 ** viewing.stops;
  const lift = (v: number): number => toSignal(Math.min(1, toLinearLight(v, transfer) * gain));
  return ([r, g, b]) => [lift(r), lift(g), lift(b)];
};

/**
 * How much luma changes after a transform for a small change of Y, Cb and Cr before it, at one colour.
 * @param luma 0–1 of range
 * @param cb, cr −0.5 to 0.5
 */
export const lumaSlopes = (
  transform: Transform,
  luma: number,
  cb: number,
  cr: number,
  matrix: ClipFacts['matrix'],
): [number, number, number] => {
  const { kr, kb } = lumaWeights(matrix);
  const kg = 1 - kr - kb;
  const after = (y: number, b: number, r: number): number => {
    const red = y + 2 * (1 - kr) * r;
    const blue = y + 2 * (1 - kb) * b;
    const green = (y - kr * red - kb * blue) / kg;
    const out = transform([red, green, blue]);
    return kr * out[0] + kg * out[1] + kb * out[2];
  };
  const step = 0.01;
  return [
    (after(luma + step, cb, cr) - after(luma - step, cb, cr)) / (2 * step),
    (after(luma, cb + step, cr) - after(luma, cb - step, cr)) / (2 * step),
    (after(luma, cb, cr + step) - after(luma, cb, cr - step)) / (2 * step),
  ];
};
