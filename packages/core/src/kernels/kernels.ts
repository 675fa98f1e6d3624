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
}

/** Constants that a kernel shares with its plain counterpart. */
type Constant =
  'TILE' | 'MOST_STEPS' | 'SETTLED' | 'LOST' | 'LEAST_LIKENESS' | 'SURE' | 'MOST_UNSURE' | 'DARK';

/** The loops that touch every pixel of every frame. */
export const kernels = new KernelMemory<Loops>(COMPILED);

/** A constant of the kernels, as they were compiled with it. */
export const constantOf = (name: Constant): number =>
  (kernels.run as unknown as Record<Constant, { readonly value: number }>)[name].value;
