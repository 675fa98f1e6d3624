import type { ClipFacts } from '#terms';

/** Code values of black and white for one kind of plane. */
export interface SignalScale {
  readonly black: number;
  /** Codes from black to white (luma, RGB), or over the whole of a colour difference (−0.5 to 0.5). */
  readonly span: number;
  /** Largest code the depth can hold. */
  readonly top: number;
}

/** One code of 8 bits, fraction of range: ITU-R BT.709-6 item 3.4. */
export const CODE_OF_8_BITS = 1 / 219;

/** Light that changes by more than this (log) from one frame to the next does so in a flash, a fade or a cut. */
export const FLASH = 0.12;

/** Scale of luma and RGB planes: ITU-R BT.709-6 item 3.4 (limited) or all codes (full). */
export const lumaScale = (facts: Pick<ClipFacts, 'bitDepth' | 'range'>): SignalScale => {
  const top = 2 ** facts.bitDepth - 1;
  const step = 2 ** (facts.bitDepth - 8);
  return facts.range === 'limited'
    ? { black: 16 * step, span: 219 * step, top }
    : { black: 0, span: top, top };
};

/** Scale of colour-difference planes; `black` is the code of no colour. */
export const chromaScale = (facts: Pick<ClipFacts, 'bitDepth' | 'range'>): SignalScale => {
  const top = 2 ** facts.bitDepth - 1;
  const step = 2 ** (facts.bitDepth - 8);
  return { black: 128 * step, span: facts.range === 'limited' ? 224 * step : top, top };
};

/** Scale of a plane of a full-size frame, by its place among them. */
export const planeScale = (
  facts: Pick<ClipFacts, 'bitDepth' | 'range' | 'matrix'>,
  plane: number,
): SignalScale => (plane === 0 || facts.matrix === 'rgb' ? lumaScale(facts) : chromaScale(facts));

/** Scale of the small view, whose 16-bit samples are the clip's codes shifted up to 16 bits. */
export const smallScale = (facts: Pick<ClipFacts, 'bitDepth' | 'range'>): SignalScale => {
  const { black, span } = lumaScale(facts);
  const k = 2 ** (16 - facts.bitDepth);
  return { black: black * k, span: span * k, top: 65535 };
};

/** Weights of red and blue in luma (ITU-R BT.601-7, BT.709-6, BT.2020-2). */
export const lumaWeights = (matrix: ClipFacts['matrix']): { kr: number; kb: number } =>
  matrix === 'bt601'
    ? { kr: 0.299, kb: 0.114 }
    : matrix === 'bt2020'
      ? { kr: 0.2627, kb: 0.0593 }
      : { kr: 0.2126, kb: 0.0722 };

/**
 * Undoes the transfer.
 * @param signal 0–1 of range
 * @returns light 0–1, relative to nominal white
 */
export const toLinearLight = (signal: number, transfer: ClipFacts['transfer']): number => {
  const v = Math.max(0, signal);
  switch (transfer) {
    case 'linear':
      return v;
    case 'srgb':
      return v <= 0.04045 ? v / 12.92 : Math.pow((v + 0.055) / 1.055, 2.4);
    case 'pq': {
      // SMPTE ST 2084, normalised to 10 000 cd/m².
      const p = Math.pow(v, 1 / 78.84375);
      return Math.pow(Math.max(0, p - 0.8359375) / (18.8515625 - 18.6875 * p), 1 / 0.1593017578125);
    }
    case 'hlg':
      // ITU-R BT.2100-2 inverse OETF.
      return v <= 0.5 ? (v * v) / 3 : (Math.exp((v - 0.55991073) / 0.17883277) + 0.28466892) / 12;
    case 'bt709':
      return v < 0.081 ? v / 4.5 : Math.pow((v + 0.099) / 1.099, 1 / 0.45);
  }
};

/** Linear light of each code of a scale, 0–1 between black and white. */
export const lightOfCodes = (
  { black, span, top }: SignalScale,
  transfer: ClipFacts['transfer'],
): Float64Array => {
  const light = new Float64Array(top + 1);
  for (let code = 0; code <= top; code++) light[code] = toLinearLight((code - black) / span, transfer);
  return light;
};

let known: { readonly of: string; readonly light: Float64Array } | null = null;

/**
 * The same of the 16-bit codes of the small view, worked out once for clips that follow one another and are stored alike; not to be
 * written to.
 */
export const lightOfSmallCodes = (
  facts: Pick<ClipFacts, 'bitDepth' | 'range' | 'transfer'>,
): Float64Array => {
  const { bitDepth, range, transfer } = facts;
  const of = `${bitDepth} ${range} ${transfer}`;
  if (known?.of !== of) known = { of, light: lightOfCodes(smallScale(facts), transfer) };
  return known.light;
};
