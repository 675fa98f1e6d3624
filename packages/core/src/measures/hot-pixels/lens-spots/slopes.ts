/**
 * How steep the picture is at each place, in the mean of many looks: a scene that passes leaves little of its own edges
 * there, one that only slides along them leaves them all.
 */
export class Slopes {
  private readonly across: Float32Array;
  private readonly down: Float32Array;
  private readonly looks: Uint16Array;

  constructor(private readonly shape: { readonly width: number; readonly height: number }) {
    const size = shape.width * shape.height;
    this.across = new Float32Array(size);
    this.down = new Float32Array(size);
    this.looks = new Uint16Array(size);
  }

  /** @param samples of the shape; `NaN` where nothing is known */
  take(samples: Float32Array): void {
    const { width, height } = this.shape;
    for (let y = 1; y < height - 1; y++)
      for (let x = 1, i = y * width + 1; x < width - 1; x++, i++) {
        const across = samples[i + 1] - samples[i - 1];
        const down = samples[i + width] - samples[i - width];
        if (Number.isNaN(across) || Number.isNaN(down)) continue;
        this.across[i] += across / 2;
        this.down[i] += down / 2;
        this.looks[i]++;
      }
  }

  /** Steepness of some places together, in units of the samples over a pixel: those that face one another cancel out. */
  over(places: readonly number[]): number {
    let [across, down, n] = [0, 0, 0];
    for (const i of places) {
      if (this.looks[i] === 0) continue;
      across += this.across[i] / this.looks[i];
      down += this.down[i] / this.looks[i];
      n++;
    }
    return n === 0 ? 0 : Math.hypot(across, down) / n;
  }
}
