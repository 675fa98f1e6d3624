import type { ClipFacts } from '#terms';
import { lumaScale, toLinearLight } from '../picture/signal.js';

/** So much light a code below black is taken for less than none, that codes stay in order. */
const BELOW_BLACK = 1e-6;

/** What light a stored code of luma or RGB stands for, and the other way round. Light of 1 is white. */
export class LightCode {
  /** By code, 0 to the largest. */
  readonly lights: Float64Array;
  readonly black: number;
  readonly top: number;

  constructor(clip: Pick<ClipFacts, 'bitDepth' | 'range' | 'transfer'>) {
    const { black, span, top } = lumaScale(clip);
    this.black = black;
    this.top = top;
    this.lights = Float64Array.from({ length: top + 1 }, (_, code) =>
      code <= black ? (code - black) * BELOW_BLACK : toLinearLight((code - black) / span, clip.transfer),
    );
  }

  /** Code whose light is nearest to a light, between codes; black for none or less. */
  codeOf(light: number): number {
    const { lights } = this;
    if (!(light > 0)) return this.black;
    let [low, high] = [0, lights.length - 1];
    if (light >= lights[high]) return high;
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (lights[middle] <= light) low = middle;
      else high = middle;
    }
    const step = lights[high] - lights[low];
    return low + (step > 0 ? (light - lights[low]) / step : 0);
  }
}
