import { expect } from 'chai';
import { Exposer } from '../camera/expose.js';
import { studyRecipe, type StudyClip } from '../study-clip.js';

const [WIDTH, HEIGHT] = [384, 216];

/** Log light of one picture of a study, luma. */
const pictureOf = (study: StudyClip['study']): Float64Array => {
  const recipe = studyRecipe({ study, width: WIDTH, height: HEIGHT, frames: 1, seed: 5077 });
  const [{ scene, camera }] = recipe.shots;
  const light = new Float32Array(WIDTH * HEIGHT * 3);
  new Exposer(scene, { ...recipe, frameRate: 25, camera }).frame(0, light);
  return Float64Array.from({ length: WIDTH * HEIGHT }, (_, i) =>
    Math.log(0.004 + 0.2126 * light[3 * i] + 0.7152 * light[3 * i + 1] + 0.0722 * light[3 * i + 2]),
  );
};

const kurtosis = (values: readonly number[]): number => {
  const mean = values.reduce((a, b) => a + b, 0) / values.length;
  const power = (k: number): number => values.reduce((s, v) => s + (v - mean) ** k, 0) / values.length;
  return power(4) / power(2) ** 2;
};

/** Differences of neighbours, and the finest diagonal details of Haar wavelets. */
const differences = (picture: Float64Array, step: number): number[] => {
  const out: number[] = [];
  for (let y = 0; y + step < HEIGHT; y += step)
    for (let x = 0; x + step < WIDTH; x += step)
      out.push(picture[y * WIDTH + x + step] - picture[y * WIDTH + x]);
  return out;
};
const details = (picture: Float64Array): number[] => {
  const out: number[] = [];
  for (let y = 0; y + 1 < HEIGHT; y += 2)
    for (let x = 0; x + 1 < WIDTH; x += 2) {
      const i = y * WIDTH + x;
      out.push((picture[i] - picture[i + 1] - picture[i + WIDTH] + picture[i + WIDTH + 1]) / 2);
    }
  return out;
};

// Log contrast of photographs: neighbours differ with a kurtosis of about 10 to 30 (Huang and Mumford 1999), wavelet
// details with more than 7 (Field 1987, Simoncelli 1999), and the structure function grows slowly with distance, as 1/f
// amplitude spectra do (Ruderman 1994): a normal picture has 3, and one of white noise does not grow at all.
describe('the statistics of the rig\u2019s pictures', () => {
  for (const study of ['foliage', 'wall', 'bricks', 'night', 'shore'] as const)
    it(`are those of photographs: ${study}`, () => {
      const picture = pictureOf(study);
      expect(kurtosis(differences(picture, 1)), 'differences of neighbours').to.be.within(6, 90);
      expect(kurtosis(details(picture)), 'finest wavelet details').to.be.above(7);
      const spread = (step: number): number => {
        const d = differences(picture, step);
        return d.reduce((s, v) => s + v * v, 0) / d.length;
      };
      const growth = Math.log2(spread(8) / spread(2)) / 2;
      expect(growth, 'growth of contrast with distance').to.be.within(0.1, 1.2);
    });
});
