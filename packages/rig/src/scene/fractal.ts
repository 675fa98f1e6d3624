import { loopsWithMemory } from '../camera/loops.js';

const { run } = loopsWithMemory();
const RUN = run.RUN.value;
const values = new Float64Array(run.memory.buffer, run.OUT.value, RUN);

/**
 * A texture of value noise whose amplitude halves as its frequency doubles, to be asked for along rows: `fractal` of
 * `x * scale` and `y * scale`, worked out for a few places ahead at once.
 */
export const fractalAlong = (
  scale: number,
  octaves: number,
  seed: number,
): ((x: number, y: number) => number) => {
  const ahead = new Float64Array(RUN);
  let [from, row] = [NaN, NaN];
  return (x, y) => {
    const k = x - from;
    if (y === row && k >= 0 && k < RUN && Number.isInteger(k)) return ahead[k];
    run.fractalRun(x, y, scale, octaves, seed);
    ahead.set(values);
    from = x;
    row = y;
    return ahead[0];
  };
};
