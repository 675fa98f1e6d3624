import { expect } from 'chai';
import { seeded } from '@bevrin/rig';
import {
  isolationOf,
  lopsidednessOf,
  observeRings,
  RING_PLACES,
  roundnessOf,
  weigh,
  type Shape,
} from './isolation.js';
import type { Suspect } from './suspect.js';

const as = (shape: Shape) => (): Shape => shape;
const signs = (
  shapeOf: (s: Suspect) => Shape,
  isWhole: boolean,
  isPhotosite = (_: Suspect): boolean => false,
) => ({
  shapeOf,
  isWhole,
  isPhotosite,
  isTinted: () => true,
});
const FRAMES = 12;
const SPAN = 219;

/** A suspect at a place of a picture that stands still, as it is after so many frames. */
const suspectAt = (samples: Uint8Array, width: number, x: number, y: number): Suspect => {
  const at = (dx: number, dy: number): number => samples[(y + dy) * width + x + dx] / SPAN;
  const across = (dx: number, dy: number): number => FRAMES * (at(0, 0) - (at(dx, dy) + at(-dx, -dy)) / 2);
  const around = [-2, 2].flatMap((d) => [at(d, 0), at(0, d)]).reduce((a, b) => a + b, 0) / 4;
  const suspect: Suspect = {
    x,
    y,
    index: y * width + x,
    bright: at(0, 0) > around,
    before: { looks: 0, stoodOut: 0 },
    frames: FRAMES,
    stoodOut: FRAMES,
    contrast: FRAMES * (at(0, 0) - around),
    contrastSquares: FRAMES * (at(0, 0) - around) ** 2,
    value: FRAMES * at(0, 0),
    valueSquares: FRAMES * at(0, 0) ** 2,
    around: FRAMES * around,
    aroundSquares: FRAMES * around ** 2,
    sides: Float64Array.of(at(-1, 0), at(1, 0), at(0, -1), at(0, 1)).map((v) => FRAMES * v),
    along: Float64Array.of(across(2, 0), across(0, 2), across(2, 2), across(2, -2)),
    rings: new Float32Array(RING_PLACES.length),
    cover: [],
    covered: new Float64Array(),
  };
  const plane = { width, height: samples.length / width, samples };
  for (let f = 0; f < FRAMES; f++) observeRings(suspect, plane, SPAN);
  return suspect;
};

describe('what tells a fault of the sensor from the scene', () => {
  const [width, height] = [160, 120];
  const even = (): Uint8Array => new Uint8Array(width * height).fill(100);

  it('is even ground around it: a place outside all that lies about it', () => {
    const picture = even();
    picture[60 * width + 80] = 140;
    const alone = suspectAt(picture, width, 80, 60);
    expect(isolationOf(alone)).to.be.greaterThan(50);
    expect(weigh([alone], signs(as('sample'), true))(alone, false, false).told).to.equal(true);
    // A wave of ±10 codes about it: 40 codes over a spread of 20.
    const uneven = even().map((v, i) => v + Math.round(10 * Math.sin((i % width) / 1.1)));
    uneven[60 * width + 80] = 140;
    expect(isolationOf(suspectAt(uneven, width, 80, 60))).to.be.closeTo(2, 0.25);
  });

  it('cannot be told where detail of the scene is as strong', () => {
    const random = seeded(7);
    const texture = even().map((v) => v + Math.round(60 * random()));
    texture[60 * width + 80] = 140;
    const s = suspectAt(texture, width, 80, 60);
    expect(weigh([s], signs(as('sample'), true))(s, true, true)).to.deep.equal({
      told: false,
      because: 'it lies in detail of the scene that is as strong',
    });
  });

  it('cannot be told from many places that look like it: printed dots, leaves, text', () => {
    const dotted = even().map((v, i) => v + Math.round(10 * Math.sin((i % width) / 1.1)));
    const places: [number, number][] = [];
    for (let y = 10; y < height - 10; y += 12) for (let x = 10; x < width - 10; x += 12) places.push([x, y]);
    const draw = (of: readonly [number, number][]): Suspect[] => {
      const picture = Uint8Array.from(dotted);
      for (const [x, y] of of) picture[y * width + x] = 140;
      return of.map(([x, y]) => suspectAt(picture, width, x, y));
    };
    const crowd = draw(places);
    const inCrowd = weigh(crowd, signs(as('sample'), false));
    const doubted = crowd.map((s) => inCrowd(s, false, false));
    expect(doubted.every((e) => !e.told)).to.equal(true);
    expect(doubted[0]).to.have.property(
      'because',
      `${places.length - 1} other places of the picture look like it`,
    );
    const few = draw(places.filter((_, i) => i % 12 === 0));
    const amongFew = weigh(few, signs(as('sample'), false));
    expect(
      few.every((s) => amongFew(s, false, false).told),
      'a dozen may be faults',
    ).to.equal(true);
  });

  it('cannot be told by what some among very many dots of the scene are by chance', () => {
    const random = seeded(19);
    const leaves = even();
    const places = Array.from(
      { length: 108 },
      (_, k) => [8 + 12 * (k % 12), 8 + 12 * Math.floor(k / 12)] as const,
    );
    // Dots of all strengths on ground of all sorts; the first stands further out of it than the others.
    const scene = places.map(([x, y], k) => {
      const uneven = k === 0 ? 24 : 40 + 60 * random();
      for (const [dx, dy] of RING_PLACES)
        leaves[(y + dy) * width + x + dx] = 100 + Math.round(uneven * (random() - 0.5));
      leaves[y * width + x] = 100 + Math.round(k === 0 ? 42 : 20 + 40 * random());
      return [x, y] as const;
    });
    const all = scene.map(([x, y]) => suspectAt(leaves, width, x, y));
    const [lone] = all;
    expect(isolationOf(lone)).to.be.within(1.5, 2.4);
    const shapeOf = (s: Suspect): Shape => (s === lone ? 'sample' : 'drawn');
    expect(weigh(all, signs(shapeOf, false))(lone, false, false).told).to.equal(false);
    // The same among a few.
    const few = [lone, ...all.filter((s) => s !== lone).slice(0, 5)];
    expect(weigh(few, signs(shapeOf, false))(lone, false, false).told).to.equal(true);
  });

  it('is told among many dots of the scene that a lens drew, not among as many that none can have drawn', () => {
    const dotted = even().map((v, i) => v + Math.round(10 * Math.sin((i % width) / 1.1)));
    const places = Array.from(
      { length: 30 },
      (_, k) => [10 + 12 * (k % 10), 20 + 24 * Math.floor(k / 10)] as const,
    );
    for (const [x, y] of places) dotted[y * width + x] = 140;
    const all = places.map(([x, y]) => suspectAt(dotted, width, x, y));
    expect(isolationOf(all[0])).to.be.within(1.7, 2.7);
    for (const shape of ['sample', 'site'] as const) {
      const drawnOthers = weigh(
        all,
        signs((s) => (s === all[0] ? shape : 'drawn'), false),
      );
      expect(drawnOthers(all[0], true, true).told, shape).to.equal(true);
      expect(
        weigh(
          all,
          signs((s) => (s === all[0] ? 'sample' : 'drawn'), false),
        )(all[0], false, false).told,
        'of no colour',
      ).to.equal(false);
      expect(drawnOthers(all[1], false, false).told, `a drawn dot beside a ${shape}`).to.equal(false);
      expect(weigh(all, signs(as(shape), false))(all[0], true, true).told, `a crowd of ${shape}s`).to.equal(
        false,
      );
    }
  });

  it('is told where a mosaic spread it only by a colour that no lens draws, on ground more even than any dot of the scene has', () => {
    const picture = even().map((v, i) => v + Math.round(3 * Math.sin((i % width) / 1.1)));
    picture[60 * width + 80] = 160;
    const spread = suspectAt(picture, width, 80, 60);
    expect(isolationOf(spread)).to.be.greaterThan(2.5);
    expect(
      weigh([spread], signs(as('drawn'), true))(spread, false, false).told,
      'a white dot is like any other',
    ).to.equal(false);
    expect(
      weigh([spread], signs(as('drawn'), true))(spread, true, true).told,
      'a dot of one colour is not',
    ).to.equal(true);
    // A scene full of dots, each nearly as isolated: then one more of them proves nothing.
    const scene = Array.from({ length: 40 }, (_, k) => {
      const ground = even().map((v, i) => v + Math.round((4 + (k % 9)) * Math.sin((i % width) / 1.1)));
      ground[60 * width + 80] = 160;
      return { ...suspectAt(ground, width, 80, 60), x: 4 * k, y: 10 };
    });
    expect(weigh([spread, ...scene], signs(as('drawn'), false))(spread, true, true).told).to.equal(false);
    const alike = scene.map((s) => ({ ...spread, x: s.x, y: s.y }));
    expect(weigh([spread, ...alike], signs(as('drawn'), true))(spread, true, true).told).to.equal(false);
  });

  it('is spread to all sides alike, where its sample stands for no others: what a lens drew lies between two', () => {
    const drawnAt = (left: number, right: number, slope = 0): Suspect => {
      const picture = even().map((v, i) => v + slope * ((i % width) - 80));
      const at = 60 * width + 80;
      picture[at] += 40;
      picture[at - 1] += left;
      picture[at + 1] += right;
      return suspectAt(picture, width, 80, 60);
    };
    const [photosite, dot] = [drawnAt(10, 10), drawnAt(4, 22)];
    const told = (s: Suspect, isWhole: boolean): boolean =>
      weigh([s], signs(as('drawn'), isWhole))(s, true, true).told;
    expect(told(photosite, true)).to.equal(true);
    expect(told(dot, true)).to.equal(false);
    expect(
      weigh(
        [dot],
        signs(as('drawn'), true, () => true),
      )(dot, true, true).told,
      'one that is a photosite by its own sides, for how uneven the ground about it is',
    ).to.equal(true);
    expect(told(dot, false), 'a sample of colour stands for several of luma').to.equal(true);
    expect(lopsidednessOf(dot)).to.be.closeTo(18 / 40, 0.02);
    expect(lopsidednessOf(drawnAt(10, 10, 2)), 'the ground may slope').to.be.closeTo(0, 0.02);
  });

  it('looks in every way as one photosite does and lies well outside what is about it, unless a few of so many dots of its colour do so by chance', () => {
    // Forty of them, each with as much detail about it.
    const crowdIn = (detail: number): Suspect[] => {
      const picture = even();
      const places = Array.from({ length: 40 }, (_, i) => [10 + 15 * (i % 10), 15 + 25 * Math.floor(i / 10)]);
      for (const [x, y] of places) {
        picture[y * width + x] += 40;
        RING_PLACES.forEach(([dx, dy], k) => (picture[(y + dy) * width + x + dx] += detail * (-1) ** k));
      }
      return places.map(([x, y]) => suspectAt(picture, width, x, y));
    };
    /** Whether the first is told, where so many look as it does. */
    const told = (all: Suspect[], alike: number, isWhole = true): boolean =>
      weigh(
        all,
        signs(as('drawn'), isWhole, (s) => all.indexOf(s) < alike),
      )(all[0], true, true).told;
    const outside = crowdIn(10);
    expect(isolationOf(outside[0])).to.be.within(1.7, 2.3);
    for (const isWhole of [true, false]) {
      expect(told(outside, 40, isWhole), 'they are all faults').to.equal(true);
      expect(told(outside, 1, isWhole), 'one of forty').to.equal(false);
      expect(told(outside.slice(0, 10), 1, isWhole), 'one of ten').to.equal(false);
      expect(told(outside.slice(0, 10), 4, isWhole), 'four of ten').to.equal(true);
      expect(told(outside.slice(0, 1), 1, isWhole), 'the only one').to.equal(true);
      // Rock, grass and snow before a sensor without a filter hold such dots: amid detail that is as strong nobody can tell.
      const amid = crowdIn(14);
      expect(isolationOf(amid[0])).to.be.within(1.2, 1.6);
      expect(told(amid, 40, isWhole), 'amid detail').to.equal(false);
    }
    expect(told(outside.slice(0, 1), 0), 'that lacks one of the signs').to.equal(false);
  });

  it('is round: a short line is told by its shape', () => {
    const picture = even();
    for (const d of [-2, -1, 0, 1, 2]) picture[(60 + d) * width + 80] = 140 - 6 * Math.abs(d);
    expect(roundnessOf(suspectAt(picture, width, 80, 60))).to.be.lessThan(0.5);
    const dot = even();
    dot[60 * width + 80] = 140;
    expect(roundnessOf(suspectAt(dot, width, 80, 60))).to.be.greaterThan(0.7);
  });
});
