import { lanczos, TAPS } from '../measures/noise/resample.js';
import type { Plane } from '../picture/frame.js';
import { treatmentKernels, type TreatmentKernels } from './memory.js';
import { subsampling } from './sequence.js';
import { BLOCK_PX, type BlockMotion, type Study } from './study.js';

/** How a plane is averaged. Levels in codes. */
export interface Averaging {
  /** Frames on each side that are averaged, ascending: what is averaged over fewer is on the way to what is over more. */
  readonly framesEachSide: readonly number[];
  /** Standard deviation of what is taken for noise. */
  readonly sigma: number;
  /** Share of what is left that is taken over space, 0–1. */
  readonly spatial: number;
}

/** What was made of a plane that was averaged, a copy of its own, and ms that it takes alone. */
export interface Averaged<Made> {
  readonly made: Made;
  readonly ms: number;
}

/**
 * The mean of 3×3 differences of noise alone has a third of their deviation; from so many of these on a difference is
 * something else, and wholly from so many.
 */
const ALIKE = 2.2;
const UNLIKE = 4;
/** What of a cosine transform stands this many deviations of the noise above nothing is picture (Donoho and Johnstone 1994: √(2 ln 64) = 2.9). */
const REACH = 2.7;
const SIDE = 8;
/** Rows and columns that the resampling filter needs beside a block. */
const BESIDE = TAPS / 2;

/** Places between two samples for which the filter's weights are kept: finer than any motion is known. */
const PHASES = 512;
const WEIGHTS = Float32Array.from(
  Array.from({ length: PHASES + 1 }, (_, p) => [...lanczos(p / PHASES)]).flat(),
);

/**
 * Averages planes over time along the movement, robust against what moves by itself, and what is left over space.
 * About 60 operations for each sample and neighbour.
 */
export class Averager {
  private readonly memory: TreatmentKernels = treatmentKernels();

  /** @param samplesOf a frame and one of its planes: those of the study, or as they are looked at */
  constructor(
    private readonly study: Study,
    private readonly samplesOf: (index: number, p: number) => ArrayLike<number> = (index, p) =>
      study.sequence.pictures[index].planes[p].samples,
  ) {}

  /**
   * @param index of the frame, of the study
   * @param p of its planes
   * @param clock tells ms
   * @returns samples in codes, row by row, for each number of frames
   */
  samples(index: number, p: number, how: Averaging, clock: () => number = () => 0): Averaged<Float32Array>[] {
    return this.average(index, p, how, clock, (mean, _here, count) => this.memory.get(mean, count));
  }

  /**
   * The same in whole codes, of the kind that the plane has.
   * @param back share of the original that is mixed in
   * @param top highest code
   */
  codes(
    index: number,
    p: number,
    { back, top, ...how }: Averaging & { readonly back: number; readonly top: number },
    clock: () => number = () => 0,
  ): Averaged<Plane>[] {
    const { width, height, samples } = this.study.sequence.pictures[index].planes[p];
    const wide = samples.BYTES_PER_ELEMENT === 2;
    return this.average(index, p, how, clock, (mean, here, count) => {
      this.memory.run.toCodes(mean, here, back, top, count, wide ? 1 : 0, mean);
      const made = wide ? this.memory.getWords(mean, count) : this.memory.getBytes(mean, count);
      return { width, height, samples: made };
    });
  }

  /** @param take of the mean and of this frame's plane, at their addresses */
  private average<Made>(
    index: number,
    p: number,
    { framesEachSide, sigma, spatial }: Averaging,
    clock: () => number,
    take: (mean: number, here: number, count: number) => Made,
  ): Averaged<Made>[] {
    const { study, memory } = this;
    const picture = study.sequence.pictures[index];
    const plane = picture.planes[p];
    const { width, height } = plane;
    const count = width * height;
    memory.reserve(6 * count + WEIGHTS.length, 7);
    const here = memory.put(this.samplesOf(index, p));
    const there = memory.room(count);
    const apart = memory.room(count);
    const [sum, weight] = [memory.room(count), memory.room(count)];
    memory.fill(sum, count, 0);
    memory.fill(weight, count, 0);
    const weights = memory.put(WEIGHTS);
    // Nine differences of noise add up to a variance of 9 · 2σ².
    const usual = 18 * sigma * sigma;
    const add = (other: number): void => {
      if (other < 0 || other >= study.count) return;
      memory.write(there, this.samplesOf(other, p));
      this.differences(
        plane,
        study.motion(index, other),
        subsampling(picture, p),
        here,
        there,
        apart,
        weights,
      );
      memory.run.addAlike(apart, width, height, ALIKE * ALIKE * usual, UNLIKE * UNLIKE * usual, sum, weight);
    };
    const mean = memory.room(count);
    let reached = 0;
    let spent = 0;
    return framesEachSide.map((reach) => {
      const began = clock();
      for (; reached < reach; reached++) for (const o of [-reached - 1, reached + 1]) add(index + o);
      const added = clock();
      spent += added - began;
      memory.run.meanOf(here, sum, weight, count, mean);
      if (spatial > 0 && Math.min(width, height) >= SIDE) {
        // The differences and the other frame are done with: their room holds what is put together.
        memory.fill(there, count, 0);
        memory.fill(apart, count, 0);
        memory.run.shrinkBlocks(mean, weight, width, height, sigma, REACH, there, apart);
        memory.run.blendMean(mean, there, apart, spatial, count, mean);
      }
      const made = take(mean, here, count);
      return { made, ms: spent + clock() - added };
    });
  }

  /** Writes down block by block by how much the other frame differs. */
  private differences(
    { width, height }: Plane,
    { columns, dx, dy }: BlockMotion,
    { kx, ky }: { kx: number; ky: number },
    here: number,
    there: number,
    apart: number,
    weights: number,
  ): void {
    const { memory } = this;
    const [across, down] = [BLOCK_PX / kx, BLOCK_PX / ky];
    const weightsAt = (fraction: number): number => weights + 4 * TAPS * Math.round(fraction * PHASES);
    for (let top = 0; top < height; top += down)
      for (let left = 0; left < width; left += across) {
        const k = Math.floor(top / down) * columns + Math.floor(left / across);
        // A block at the edge begins further inside, so that it is whole.
        const [x, y] = [
          Math.max(0, Math.min(left, width - across)),
          Math.max(0, Math.min(top, height - down)),
        ];
        const [u, v] = [x + dx[k] / kx, y + dy[k] / ky];
        const [iu, iv] = [Math.floor(u), Math.floor(v)];
        if (iu < BESIDE || iv < BESIDE || iu + across + BESIDE > width || iv + down + BESIDE > height) {
          const [right, bottom] = [Math.min(width, left + across), Math.min(height, top + down)];
          for (let row = top; row < bottom; row++)
            memory.fill(apart + 4 * (row * width + left), right - left, memory.run.UNSEEN.value);
          continue;
        }
        memory.run.movedApart(
          here + 4 * (y * width + x),
          there + 4 * (iv * width + iu),
          width,
          weightsAt(u - iu),
          weightsAt(v - iv),
          across,
          down,
          apart + 4 * (y * width + x),
        );
      }
  }
}
