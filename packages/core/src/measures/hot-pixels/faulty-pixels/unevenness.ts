import { ENOUGH, SEVERAL } from '../../../maths/enough.js';
import { madSigma } from '../../../maths/robust.js';
import type { Plane } from '../../../picture/frame.js';
import { contrastAt } from './impulses.js';

const PLACES = 6000;
/** A place whose surroundings span more than this (fraction of range) shows the scene, not the sensor. */
const FLAT = 0.07;

/**
 * The ordinary unevenness of a sensor: how far single pixels stand out in the mean over frames, in places that are
 * flat. Looks at a few thousand places, whatever the size of the picture.
 */
export class Unevenness {
  private readonly places: Int32Array;
  private readonly sums: Float64Array;
  private readonly counts: Uint16Array;
  /** Where the samples lie that say how flat a place is. */
  private readonly about: Int32Array;

  constructor(
    private readonly plane: Pick<Plane, 'width' | 'height'>,
    private readonly span: number,
  ) {
    const { width, height } = plane;
    const all: number[] = [];
    const step = Math.max(3, Math.floor(Math.sqrt((width * height) / PLACES)));
    for (let y = 2; y < height - 2; y += step)
      for (let x = 2; x < width - 2; x += step) all.push(y * width + x);
    this.places = Int32Array.from(all);
    this.sums = new Float64Array(all.length);
    this.counts = new Uint16Array(all.length);
    const w = width;
    this.about = Int32Array.of(-2, 2, -2 * w, 2 * w, -w - 1, -w + 1, w - 1, w + 1);
  }

  take(samples: Plane['samples']): void {
    const { places, about, sums, counts, span } = this;
    const most = FLAT * span;
    for (let k = 0; k < places.length; k++) {
      const i = places[k];
      let low = samples[i + about[0]];
      let high = low;
      for (let n = 1; n < about.length; n++) {
        const v = samples[i + about[n]];
        if (v < low) low = v;
        else if (v > high) high = v;
      }
      if (high - low > most) continue;
      sums[k] += contrastAt(samples, i, this.plane.width) / span;
      counts[k]++;
    }
  }

  /** Standard deviation, fraction of range; 0 where too little was flat to tell. */
  sigma(): number {
    const means: number[] = [];
    for (let k = 0; k < this.places.length; k++)
      if (this.counts[k] >= SEVERAL) means.push(this.sums[k] / this.counts[k]);
    return means.length < ENOUGH ? 0 : madSigma(means);
  }
}
