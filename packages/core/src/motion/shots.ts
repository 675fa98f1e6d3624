import type { Shot } from '@bevrin/contract';
import { median } from '../maths/robust.js';
import type { Frame } from '../picture/frame.js';

const COLUMNS = 16;
const ROWS = 9;
/** Dissimilarity (1 − correlation of the coarse pictures) from which a change can be a cut. */
const LEAST_CHANGE = 0.25;
/** A cut stands out from the changes around it by this factor; a fast pan changes every frame alike. */
const STANDS_OUT = 4;
const NEIGHBOURS = 6;

/** Finds hard cuts from coarse pictures of every frame; light alone never makes one. Keeps one number a frame. */
export class ShotFinder {
  private readonly recent: Float64Array[] = [];
  /** Change from the frame before, and from the frame before that. */
  private readonly change: number[] = [];
  private readonly changeOverTwo: number[] = [];

  take(frame: Frame): void {
    const coarse = coarsePicture(frame);
    const [before, twoBefore] = this.recent;
    this.change.push(before ? dissimilarity(before, coarse) : 0);
    this.changeOverTwo.push(twoBefore ? dissimilarity(twoBefore, coarse) : 0);
    this.recent.unshift(coarse);
    this.recent.length = Math.min(2, this.recent.length);
  }

  finish(): Shot[] {
    const starts = [0];
    for (let f = 1; f < this.change.length; f++) if (this.isCut(f)) starts.push(f);
    return starts.map((startFrame, i) => ({
      startFrame,
      endFrame: Math.max(startFrame, (starts[i + 1] ?? this.change.length) - 1),
    }));
  }

  private isCut(f: number): boolean {
    const here = this.change[f];
    if (here < LEAST_CHANGE) return false;
    // A flash or a passing bird goes again: the frame after looks like the frame before.
    const goes = f + 1 < this.change.length && this.changeOverTwo[f + 1] < LEAST_CHANGE / 2;
    const comes = f >= 2 && this.changeOverTwo[f] < LEAST_CHANGE / 2;
    if (goes || comes) return false;
    const around: number[] = [];
    for (let k = -NEIGHBOURS; k <= NEIGHBOURS; k++) if (k !== 0 && f + k > 0 && f + k < this.change.length) around.push(this.change[f + k]);
    return around.length === 0 || here > STANDS_OUT * median(around);
  }
}

const coarsePicture = ({ planes: [{ width, height, samples }] }: Frame): Float64Array => {
  const cells = new Float64Array(COLUMNS * ROWS);
  const counts = new Float64Array(COLUMNS * ROWS);
  const step = width > 200 ? 2 : 1;
  for (let y = 0; y < height; y += step) {
    const row = Math.floor((y * ROWS) / height) * COLUMNS;
    for (let x = 0; x < width; x += step) {
      const c = row + Math.floor((x * COLUMNS) / width);
      cells[c] += samples[y * width + x];
      counts[c]++;
    }
  }
  let mean = 0;
  for (let c = 0; c < cells.length; c++) {
    cells[c] = counts[c] > 0 ? cells[c] / counts[c] : 0;
    mean += cells[c] / cells.length;
  }
  return cells.map((v) => v - mean);
};

/** Below this contrast (of 65535) a picture is black or blank, and its pattern says nothing. */
const BLANK = 65535 * 0.004;

const dissimilarity = (a: Float64Array, b: Float64Array): number => {
  let ab = 0;
  let aa = 0;
  let bb = 0;
  for (let i = 0; i < a.length; i++) {
    ab += a[i] * b[i];
    aa += a[i] * a[i];
    bb += b[i] * b[i];
  }
  const blank = BLANK * BLANK * a.length;
  if (aa < blank && bb < blank) return 0;
  if (aa < blank || bb < blank) return LEAST_CHANGE;
  return 1 - ab / Math.sqrt(aa * bb);
};
