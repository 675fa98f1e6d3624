import { KernelMemory } from '../kernels/memory.js';
import { COMPILED } from './compiled.js';

interface Loops {
  readonly UNSEEN: { readonly value: number };
  movedApart(
    here: number,
    there: number,
    stride: number,
    along: number,
    down: number,
    width: number,
    height: number,
    to: number,
  ): void;
  addAlike(
    apart: number,
    width: number,
    height: number,
    least: number,
    most: number,
    sum: number,
    weight: number,
  ): void;
  meanOf(here: number, sum: number, weight: number, count: number, to: number): void;
  shrinkBlocks(
    from: number,
    weight: number,
    width: number,
    height: number,
    noise: number,
    reach: number,
    sum: number,
    share: number,
  ): void;
  readonly PHASES: { readonly value: number };
  warpRow(
    from: number,
    stride: number,
    width: number,
    height: number,
    x: number,
    y: number,
    dx: number,
    dy: number,
    count: number,
    weights: number,
    to: number,
  ): void;
  toCodes(
    from: number,
    here: number,
    back: number,
    top: number,
    count: number,
    wide: number,
    to: number,
  ): void;
  blendMean(from: number, sum: number, share: number, part: number, count: number, to: number): void;
}

/** The loops of treatments, with a memory of their own: it goes with the trial that made it. */
export type TreatmentKernels = KernelMemory<Loops>;

/** The loops in a fresh memory. */
export const treatmentKernels = (): TreatmentKernels => new KernelMemory<Loops>(COMPILED);
