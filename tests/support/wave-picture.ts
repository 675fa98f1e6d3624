import { bilinear } from '../../packages/core/src/maths/bilinear.js';
import type { Level } from '../../packages/core/src/picture/pyramid.js';

const WAVES = 60;

/** A repeatable picture of many waves of all sizes that can be read at any place: for tests of motion. */
export class WavePicture {
  private readonly waves: { kx: number; ky: number; phase: number; amplitude: number }[];

  constructor(seed: number) {
    let state = seed;
    const random = (): number => (state = (state * 16807) % 2147483647) / 2147483647;
    this.waves = Array.from({ length: WAVES }, () => {
      const k = 0.02 * 40 ** random();
      const angle = 2 * Math.PI * random();
      return {
        kx: k * Math.cos(angle),
        ky: k * Math.sin(angle),
        phase: 2 * Math.PI * random(),
        amplitude: 0.05 / k,
      };
    });
  }

  at(x: number, y: number): number {
    let sum = 0;
    for (const { kx, ky, phase, amplitude } of this.waves)
      sum += amplitude * Math.sin(kx * x + ky * y + phase);
    return sum;
  }

  /** The picture as it looks when its point (x, y) has moved to `place(x, y)`; give the way back. */
  seen(
    width: number,
    height: number,
    wayBack: (x: number, y: number) => [number, number] = (x, y) => [x, y],
  ): Level {
    const samples = new Float32Array(width * height);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) samples[y * width + x] = 20_000 + 3000 * this.at(...wayBack(x, y));
    return { width, height, samples };
  }
}

/**
 * The picture of many waves, worked out once and read between its pixels (bilinear): for tests that ask for it millions of
 * times.
 * @param size what can be asked for, pixels; and so far beyond each side
 */
export const waveTable = (
  seed: number,
  { width, height, margin }: { readonly width: number; readonly height: number; readonly margin: number },
): { at(x: number, y: number): number } => {
  const picture = new WavePicture(seed);
  const stride = width + 2 * margin;
  const table = Float32Array.from({ length: stride * (height + 2 * margin) }, (_, i) =>
    picture.at((i % stride) - margin, Math.floor(i / stride) - margin),
  );
  return {
    at: (x, y) => bilinear(table, stride, x + margin, y + margin),
  };
};
