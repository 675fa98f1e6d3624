import { expect } from 'chai';
import { contrastAt, leastContrastOf, newTally, tallyImpulses, thresholdFor } from './impulses.js';

const SIZE = { width: 64, height: 40 };
const SPAN = 219;
/** A picture whose samples are said by their place. */
const picture = (at: (x: number, y: number) => number) => ({
  ...SIZE,
  samples: Uint8Array.from({ length: SIZE.width * SIZE.height }, (_, i) =>
    Math.round(at(i % SIZE.width, Math.floor(i / SIZE.width))),
  ),
});
const found = (at: (x: number, y: number) => number, threshold = 12) => {
  const tally = newTally(SIZE.width, SIZE.height);
  const met: [number, number, number][] = [];
  tallyImpulses(picture(at), threshold, tally, (i, contrast) =>
    met.push([i % SIZE.width, Math.floor(i / SIZE.width), contrast]),
  );
  return { met, tally };
};
const dotAt =
  (cx: number, cy: number, by: number, ground: (x: number, y: number) => number = () => 80) =>
  (x: number, y: number): number =>
    ground(x, y) + (x === cx && y === cy ? by : 0);

describe('pixels that stand out', () => {
  it('are found bright and dark, with their contrast, wherever they lie in a row', () => {
    for (const x of [2, 9, 10, 31, 61]) {
      expect(found(dotAt(x, 20, 50)).met).to.deep.equal([[x, 20, 50]]);
      expect(found(dotAt(x, 20, -50)).met).to.deep.equal([[x, 20, -50]]);
    }
  });

  it('are counted apart, above and below', () => {
    const { tally } = found(dotAt(30, 10, -40));
    const at = 10 * SIZE.width + 30;
    expect([tally.above[at], tally.below[at]]).to.deep.equal([0, 1]);
  });

  it('are none where the row goes on alike, none on a slope, none below the threshold', () => {
    expect(found((_, y) => (y < 20 ? 60 : 140)).met).to.deep.equal([]);
    expect(found((_, y) => (y === 20 ? 140 : 60)).met).to.deep.equal([]);
    expect(found((x) => 20 + 3 * x).met).to.deep.equal([]);
    expect(found(dotAt(30, 20, 11)).met).to.deep.equal([]);
  });

  it('are one where a dot is smeared over its neighbours', () => {
    const smeared = (x: number, y: number): number => 80 + 60 * Math.exp(-((x - 30) ** 2 + (y - 20) ** 2));
    expect(found(smeared).met.map(([x, y]) => [x, y])).to.deep.equal([[30, 20]]);
  });

  it('are left alone where a picture ends: they have no surroundings', () => {
    expect(found(dotAt(1, 20, 60)).met).to.deep.equal([]);
    expect(found(dotAt(30, 39, 60)).met).to.deep.equal([]);
  });
});

describe('the contrast that is asked for', () => {
  it('is a visible one on even ground, and more where the picture itself is that rough', () => {
    expect(
      thresholdFor(
        picture(() => 80),
        SPAN,
      ),
    ).to.equal(leastContrastOf(SPAN));
    const rough = picture((x, y) => 80 + 40 * ((x * 7919 + y * 104729) % 3));
    expect(thresholdFor(rough, SPAN)).to.be.above(4 * leastContrastOf(SPAN));
  });

  it('is that with what lies two pixels away', () => {
    const { samples } = picture(dotAt(30, 20, 40));
    expect(contrastAt(samples, 20 * SIZE.width + 30, SIZE.width)).to.equal(40);
    expect(contrastAt(samples, 20 * SIZE.width + 32, SIZE.width)).to.equal(-5);
  });
});
