import { KernelMemory } from '@bevrin/core';
import { COMPILED } from './compiled.js';

/** The camera's loops over every pixel; what they do stands in `kernels/kernels.ts`. Addresses are bytes. */
export interface Loops {
  addPlate(
    plate: number,
    plateWidth: number,
    plateHeight: number,
    u: number,
    v: number,
    du: number,
    dv: number,
    width: number,
    clear: number,
    sums: number,
  ): void;
  throughMosaic(seen: number, out: number, width: number, height: number): void;
  settleRow(
    sums: number,
    rest: number,
    red: number,
    green: number,
    blue: number,
    width: number,
    out: number,
  ): void;
  addTo(to: number, what: number, count: number): void;
  blurAcross(from: number, to: number, width: number, height: number, taps: number, radius: number): void;
  blurDown(from: number, to: number, width: number, height: number, taps: number, radius: number): void;
  clumpAcross(from: number, to: number, width: number, height: number, taps: number, radius: number): void;
  clumpDown(from: number, to: number, width: number, height: number, taps: number, radius: number): void;
  encode(
    light: number,
    out: number,
    count: number,
    dark: number,
    table: number,
    darkest: number,
    steps: number,
  ): void;
  addNoise(
    clean: number,
    noisy: number,
    field: number,
    fixed: number,
    sigma: number,
    fixedSigma: number,
    lift: number,
    count: number,
  ): void;
  toPlanes(
    signal: number,
    width: number,
    height: number,
    stepX: number,
    stepY: number,
    kr: number,
    kb: number,
    luma: number,
    cb: number,
    cr: number,
  ): void;
  noisePower(
    luma: number,
    cb: number,
    cr: number,
    clean: number,
    width: number,
    height: number,
    stepX: number,
    stepY: number,
    lumaSpan: number,
    chromaSpan: number,
    kr: number,
    kb: number,
  ): void;
  fractalRun(x: number, y: number, scale: number, octaves: number, seed: number): void;
  toCodes(
    plane: number,
    count: number,
    base: number,
    span: number,
    top: number,
    wide: number,
    out: number,
  ): void;
}

/** What the loops and those who call them must agree on. */
interface Constants {
  readonly RUN: { readonly value: number };
}

/** A memory with the loops in it. */
export const loopsWithMemory = (): KernelMemory<Loops & Constants> =>
  new KernelMemory<Loops & Constants>(COMPILED);

/** Floats at an address, for a while: what is written there by a loop is seen, and the other way round. */
export interface Room {
  readonly at: number;
  readonly floats: Float32Array;
}

/** Rooms for so many floats each, side by side in a memory of their own. */
export const roomsFor = (
  sizes: readonly number[],
): { memory: KernelMemory<Loops>; rooms: readonly Room[] } => {
  const memory = loopsWithMemory();
  memory.reserve(
    sizes.reduce((sum, n) => sum + n, 0),
    sizes.length,
  );
  const at = sizes.map((n) => memory.room(n));
  // Only now: memory that grows is another buffer.
  return { memory, rooms: at.map((address, i) => ({ at: address, floats: memory.view(address, sizes[i]) })) };
};
