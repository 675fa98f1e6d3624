import { expect } from 'chai';
import { harmOf, Study, type Picture } from '@bevrin/core';
import type { ClipFacts } from '@bevrin/contract';
import { seeded } from '@bevrin/rig';
import { measurementWith } from '../support/measurement.js';

const [WIDTH, HEIGHT, COUNT] = [480, 270, 12];
const [FROM, TO] = [5, 7];
const clip = { ...measurementWith().clip, width: WIDTH, height: HEIGHT, bitDepth: 8 } as unknown as ClipFacts;

type Field = Float64Array;
const field = (at: (x: number, y: number) => number): Field =>
  Float64Array.from({ length: WIDTH * HEIGHT }, (_, i) => at(i % WIDTH, Math.floor(i / WIDTH)));
const pictureOf = (luma: Field, noise: () => number): Picture => {
  const grey = {
    width: WIDTH / 2,
    height: HEIGHT / 2,
    samples: new Uint8Array((WIDTH * HEIGHT) / 4).fill(128),
  };
  const samples = Uint8Array.from(luma, (v) => Math.max(0, Math.min(255, Math.round(v + noise()))));
  return { planes: [{ width: WIDTH, height: HEIGHT, samples }, grey, grey] };
};
const normal = (seed: number): (() => number) => {
  const random = seeded(seed);
  return () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
};

/** A Gaussian, along rows and down columns. */
const blurred = (values: Field, sigma: number): Field => {
  const radius = Math.ceil(4 * sigma);
  const taps = Array.from({ length: 2 * radius + 1 }, (_, i) =>
    Math.exp(-((i - radius) ** 2) / (2 * sigma ** 2)),
  );
  const total = taps.reduce((a, b) => a + b, 0);
  const pass = (from: Field, dx: number, dy: number): Field =>
    field((x, y) => {
      let sum = 0;
      for (let k = -radius; k <= radius; k++) {
        const u = Math.max(0, Math.min(WIDTH - 1, x + dx * k));
        const v = Math.max(0, Math.min(HEIGHT - 1, y + dy * k));
        sum += taps[k + radius] * from[v * WIDTH + u];
      }
      return sum / total;
    });
  return pass(pass(values, 1, 0), 0, 1);
};

/** Distribution function of the normal distribution (Abramowitz and Stegun 1964, 7.1.26). */
const below = (z: number): number => {
  const t = 1 / (1 + (0.3275911 * Math.abs(z)) / Math.SQRT2);
  const poly =
    t * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429))));
  const half = 0.5 * (1 - poly * Math.exp((-z * z) / 2));
  return z < 0 ? 0.5 - half : 0.5 + half;
};

describe('halos that a repair drew', function () {
  this.timeout(120_000);

  /** Highest point beside a step that was blurred by `sigma` and then sharpened, share of the step. */
  const overshoot = (sigma: number, radius: number, amount: number): number => {
    let most = 0;
    for (let x = 0; x < 12; x += 0.05) {
      const [edge, soft] = [below(x / sigma), below(x / Math.hypot(sigma, radius))];
      most = Math.max(most, edge + amount * (edge - soft) - 1);
    }
    return most;
  };

  for (const [sigma, radius, amount] of [
    [1, 1.5, 0.8],
    [1.4, 2, 1.2],
    [0.9, 1.2, 0.8],
  ] as const)
    it(`by a radius of ${radius} px and ${100 * amount} % are measured within 20 %`, () => {
      const noise = normal(3);
      // Slanted bars, forty pixels wide, between flat sides.
      const step = 90;
      const bars = blurred(
        field((x, y) => (Math.floor((x + 0.2 * y) / 40) % 2 === 0 ? 70 : 70 + step)),
        sigma,
      );
      const soft = blurred(bars, radius);
      const sharp = bars.map((v, i) => v + amount * (v - soft[i]));
      const frames = Array.from({ length: COUNT }, () => pictureOf(bars, () => 0.5 * noise()));
      const after = new Map<number, Picture>();
      for (let f = FROM; f < TO; f++)
        after.set(
          f,
          pictureOf(sharp, () => 0.5 * noise()),
        );
      const study = new Study({ clip, firstFrame: 0, pictures: frames });
      const { haloPct } = harmOf({ before: study, after, window: 0 });
      const truth = 100 * overshoot(sigma, radius, amount);
      expect(truth).to.be.greaterThan(3);
      expect(haloPct.value! / truth, `${truth} % is true`).to.be.within(0.8, 1.2);
    });
});

describe('detail that is smeared where things move', function () {
  this.timeout(120_000);

  it('is told from what is lost everywhere, within 5 points', () => {
    const noise = normal(7);
    const texture = normal(9);
    const grain = blurred(
      field(() => 128 + 90 * texture()),
      0.9,
    );
    /** A textured patch goes over a ground that stands still. */
    const inPatch = (x: number, y: number, f: number): boolean =>
      x >= 60 + 3 * f && x < 300 + 3 * f && y >= 50 && y < 210;
    const sceneAt = (f: number, ground: Field, patch: Field): Field =>
      field((x, y) =>
        inPatch(x, y, f)
          ? patch[((y + 40) % HEIGHT) * WIDTH + ((x - 3 * f + WIDTH + 170) % WIDTH)]
          : ground[y * WIDTH + x],
      );
    const soft = blurred(grain, 1.1);
    const frames = Array.from({ length: COUNT }, (_, f) => pictureOf(sceneAt(f, grain, grain), noise));
    const study = new Study({ clip, firstFrame: 0, pictures: frames });
    const harm = (ground: Field, patch: Field): ReturnType<typeof harmOf> => {
      const after = new Map<number, Picture>();
      for (let f = FROM; f < TO; f++) after.set(f, pictureOf(sceneAt(f, ground, patch), noise));
      return harmOf({ before: study, after, window: 0 });
    };
    const everywhere = harm(soft, soft);
    const lost = 100 - everywhere.detailKeptPct.value!;
    expect(lost).to.be.within(20, 95);
    expect(everywhere.smearPct.value).to.be.below(5);
    expect(harm(grain, soft).smearPct.value).to.be.closeTo(lost, 5);
    expect(harm(grain, grain).smearPct.value).to.be.below(1);
  });
});
