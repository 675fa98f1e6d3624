import { COMPILED } from './compiled.js';
import { KernelMemory } from './memory.js';

interface Loops {
  followTile(
    a: number,
    b: number,
    width: number,
    height: number,
    left: number,
    top: number,
    firstDx: number,
    firstDy: number,
    black: number,
    crossed: number,
  ): number;
  halve(from: number, width: number, height: number, to: number): void;
  withoutLocalMean(
    from: number,
    width: number,
    height: number,
    radius: number,
    work: number,
    to: number,
  ): void;
  detail(from: number, width: number, height: number, fine: number, middle: number, coarse: number): void;
  detailAt(from: number, width: number, fine: number, coarse: number): void;
  smooth(from: number, width: number, height: number, work: number, to: number): void;
  standsOut(
    row: number,
    before: number,
    after: number,
    count: number,
    gainBefore: number,
    gainAfter: number,
    black: number,
    threshold: number,
    out: number,
  ): number;
  halveWide(from: number, width: number, height: number, to: number, shift: number): void;
  impulsesInRow(
    row: number,
    stride: number,
    count: number,
    few: number,
    threshold: number,
    out: number,
  ): number;
  squareSums(
    from: number,
    across: number,
    width: number,
    height: number,
    factor: number,
    sums: number,
    differences: number,
    work: number,
  ): void;
  steepestOf(from: number, width: number, left: number, right: number, top: number, bottom: number): number;
  lightOf(
    picture: number,
    detail: number,
    leftOut: number,
    table: number,
    darkest: number,
    count: number,
    to: number,
  ): void;
  tileLight(
    before: number,
    after: number,
    width: number,
    height: number,
    bands: number,
    columns: number,
    dx: number,
    dy: number,
    zoom: number,
    turn: number,
    sums: number,
  ): void;
  squareGradients(
    from: number,
    width: number,
    columns: number,
    rows: number,
    xx: number,
    xy: number,
    yy: number,
  ): void;
  blockSums(
    first: number,
    firstStride: number,
    second: number,
    secondStride: number,
    low: number,
    high: number,
    out: number,
  ): void;
  movedDifference(
    first: number,
    firstStride: number,
    second: number,
    secondStride: number,
    taps: number,
    gains: number,
    width: number,
    height: number,
    black: number,
    scale: number,
    to: number,
  ): void;
  correlations(
    a: number,
    widthA: number,
    b: number,
    widthB: number,
    left: number,
    right: number,
    top: number,
    bottom: number,
    dx: number,
    dy: number,
    reach: number,
    rowStep: number,
    to: number,
  ): void;
  supportOf(votes: number, count: number, x: number, y: number, reach: number): number;
  usualOf(
    looks: number,
    places: number,
    count: number,
    moves: number,
    pairs: number,
    pairCount: number,
    width: number,
    height: number,
    stride: number,
    before: number,
    to: number,
    step: number,
    least: number,
  ): void;
  pairSpectrum(re: number, im: number, size: number, twiddles: number, powers: number): void;
  underWindow(at: number, size: number, window: number, scale: number): void;
}

/** Constants that a kernel shares with its plain counterpart. */
type Constant =
  | 'TILE'
  | 'PLACE'
  | 'SQUARE'
  | 'BLOCK'
  | 'CELL'
  | 'TAPS'
  | 'VOTE'
  | 'MOST_STEPS'
  | 'MOST_STEPS_CROSSED'
  | 'LOST_CROSSED'
  | 'SETTLED'
  | 'STEADIED'
  | 'LONGEST'
  | 'LEAST_SEEN'
  | 'LOST'
  | 'LEAST_LIKENESS'
  | 'SURE'
  | 'MOST_UNSURE'
  | 'MOST_LOOKS'
  | 'UNKNOWN'
  | 'DARK';

/** The loops that touch every pixel of every frame. */
export const kernels = new KernelMemory<Loops>(COMPILED);

/** A constant of the kernels, as they were compiled with it. */
export const constantOf = (name: Constant): number =>
  (kernels.run as unknown as Record<Constant, { readonly value: number }>)[name].value;
