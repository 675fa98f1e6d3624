import { expect } from 'chai';
import { normal, seeded } from '@bevrin/rig';
import { isolationOf, RING_PLACES } from './isolation.js';
import { cameToLieThere, isOnPassingGround, staysPut } from './stays-put.js';
import type { Suspect } from './suspect.js';

/** A round place that has these contrasts with what passes over it, whose mean rises by so much for each pixel across. */
const placeWith = (contrasts: readonly number[], risingBy = 0): Suspect => {
  const frames = contrasts.length;
  const sum = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0);
  const contrast = sum(contrasts);
  const ground = 0.4 * frames;
  return {
    x: 40,
    y: 40,
    index: 0,
    bright: contrast > 0,
    before: { looks: 0, stoodOut: 0 },
    frames,
    stoodOut: frames,
    contrast,
    contrastSquares: sum(contrasts.map((c) => c * c)),
    value: ground + contrast,
    valueSquares: 0,
    around: ground,
    aroundSquares: 0,
    sides: new Float64Array(4).fill(ground + 0.3 * contrast),
    along: new Float64Array(4).fill(contrast),
    rings: Float32Array.from(RING_PLACES, ([dx, dy]) => ground + frames * (risingBy * dx + 0.004 * (dy % 2))),
    cover: [],
    covered: new Float64Array(),
  };
};

/** Contrasts of a mean and a scatter. */
const passing = (frames: number, mean: number, scatter: number): number[] => {
  const random = seeded(9);
  return Array.from({ length: frames }, () => mean + scatter * normal(random));
};

describe('a place that stays put while the scene passes', () => {
  /** Each frame shows the scene in another place. */
  const isTold = (place: Suspect, among: number): boolean => staysPut(place, place.frames, among);

  it('is told on ground whose mean slopes as on a level, but not in detail that stayed', () => {
    const onSlope = placeWith(passing(25, -0.15, 0.05), 0.03);
    expect(isolationOf(onSlope), 'lies within what is around it').to.be.lessThan(0.85);
    expect(isTold(onSlope, 3000) && isOnPassingGround(onSlope)).to.equal(true);
    const inDetail = placeWith(passing(25, -0.15, 0.05));
    inDetail.rings.forEach((_, k, rings) => (rings[k] += 25 * (k % 2 ? 0.2 : -0.2)));
    expect(isOnPassingGround(inDetail)).to.equal(false);
  });

  it('may have the dark lobes that a mosaic leaves along rows and columns, but is no piece of a line', () => {
    const drawn = (along: readonly number[]): Suspect => {
      const place = placeWith(passing(24, 0.46, 0.01));
      along.forEach((a, k) => (place.along[k] = a * place.contrast));
      return place;
    };
    const [lobes, line] = [drawn([1.46, 1.46, 1, 1]), drawn([1.2, 0.3, 1.1, 1.1])];
    expect(isOnPassingGround(lobes)).to.equal(true);
    expect(isOnPassingGround(line)).to.equal(false);
    // What no mosaic spread has no lobes from one either.
    expect(isOnPassingGround({ ...lobes, sides: lobes.sides.map(() => lobes.around) })).to.equal(false);
  });

  it('is none where detail that passed stood out on the mean, by as much as it scatters', () => {
    expect(isTold(placeWith(passing(10, -0.065, 0.064)), 23_000)).to.equal(false);
    expect(isTold(placeWith(passing(10, -0.065, 0.002)), 23_000)).to.equal(true);
  });

  it('is seen by frames that show the scene in another place, however many show it where it was', () => {
    const place = placeWith(passing(24, 0.1, 0.06));
    expect(isTold(place, 500)).to.equal(true);
    expect(staysPut(place, 4, 500)).to.equal(false);
  });

  it('must be surer among many places, any of which could be it by chance', () => {
    const place = placeWith(passing(10, 0.1, 0.05));
    expect(isTold(place, 1)).to.equal(true);
    expect(isTold(place, 1_000_000)).to.equal(false);
  });

  it('is told by chance in no more than one of four pictures, however many places there are', () => {
    // Places whose contrasts have no mean: what is left is chance.
    const random = seeded(31);
    const [PICTURES, PLACES, FRAMES] = [40, 300, 25];
    const told = Array.from({ length: PICTURES * PLACES }, () =>
      placeWith(Array.from({ length: FRAMES }, () => 0.05 * normal(random))),
    ).filter((place) => isTold(place, PLACES)).length;
    expect(told / PICTURES).to.be.at.most(0.25);
  });

  /** On ground as uneven as a scene leaves it. */
  const inScene = (place: Suspect): Suspect => ({
    ...place,
    rings: place.rings.map((r, k) => r + 0.06 * place.frames * (k % 2)),
  });

  it('was there before it was kept an eye on: what stands out all the time since, and hardly did before, came to lie there', () => {
    const sinceThen = { ...placeWith(passing(14, 0.1, 0.01)), stoodOut: 14 };
    const later = { ...sinceThen, before: { looks: 18, stoodOut: 6 } };
    expect(cameToLieThere(inScene(later))).to.equal(true);
    expect(cameToLieThere(later), 'on ground as even as no scene leaves it').to.equal(false);
    expect(cameToLieThere(inScene({ ...sinceThen, before: { looks: 18, stoodOut: 15 } }))).to.equal(false);
    // One that a codec hides now and then is kept an eye on late, and is hidden now and then afterwards.
    const faint = { ...placeWith(passing(25, 0.1, 0.06)), stoodOut: 18, before: { looks: 7, stoodOut: 2 } };
    expect(cameToLieThere(inScene(faint))).to.equal(false);
  });

  it('is given up by chance one time in a hundred', () => {
    const random = seeded(12);
    const [looks, later, all] = [12, 20, 4000];
    const seen = (n: number): number => Array.from({ length: n }).filter(() => random() < 0.6).length;
    const place = inScene(placeWith(passing(later, 0.1, 0.01)));
    const givenUp = Array.from({ length: all }, () =>
      cameToLieThere({ ...place, stoodOut: seen(later), before: { looks, stoodOut: seen(looks) } }),
    ).filter(Boolean).length;
    expect(givenUp / all).to.be.within(0.001, 0.01);
  });
});
