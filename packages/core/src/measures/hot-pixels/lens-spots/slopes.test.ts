import { expect } from 'chai';
import { blobAbout } from './blob.js';
import { Slopes } from './slopes.js';

const SHAPE = { width: 60, height: 40 };
const picture = (at: (x: number, y: number) => number): Float32Array =>
  Float32Array.from({ length: SHAPE.width * SHAPE.height }, (_, i) =>
    at(i % SHAPE.width, Math.floor(i / SHAPE.width)),
  );
/** Places about the middle. */
const middle = Array.from({ length: 25 }, (_, k) => (18 + Math.floor(k / 5)) * SHAPE.width + 28 + (k % 5));

describe('how steep a picture stays while the scene passes', () => {
  it('is all of an edge that the camera slides along, and little of edges that pass', () => {
    const along = new Slopes(SHAPE);
    const past = new Slopes(SHAPE);
    for (let look = 0; look < 16; look++) {
      along.take(picture((_, y) => 0.1 * y));
      past.take(picture((x) => Math.sin((x + 2 * look) / 5.1)));
    }
    expect(along.over(middle)).to.be.closeTo(0.1, 1e-3);
    expect(past.over(middle)).to.be.lessThan(0.03);
  });

  it('is nothing of what is round, whose sides face one another', () => {
    const slopes = new Slopes(SHAPE);
    slopes.take(picture((x, y) => Math.exp(-((x - 30) ** 2 + (y - 20) ** 2) / 8)));
    expect(slopes.over(middle)).to.be.lessThan(0.01);
  });

  it('knows nothing where nothing was seen', () => {
    const slopes = new Slopes(SHAPE);
    slopes.take(picture(() => NaN));
    expect(slopes.over(middle)).to.equal(0);
  });
});

describe('a blob', () => {
  const samples = picture((x, y) => (Math.hypot(x - 20, y - 12) < 5 ? -0.2 : 0) + (x > 50 ? -0.3 : 0));

  it('is what hangs together with a place, with its middle, its size and its mean', () => {
    const blob = blobAbout({ ...SHAPE, samples }, 12 * SHAPE.width + 20, new Uint8Array(samples.length));
    expect(blob.x).to.be.closeTo(20, 0.01);
    expect(blob.y).to.be.closeTo(12, 0.01);
    expect(blob.radius).to.be.closeTo(5, 0.4);
    expect(blob.level).to.be.closeTo(-0.2, 1e-6);
    expect(blob.longest / blob.shortest).to.be.closeTo(1, 0.05);
  });

  it('takes nothing that belongs to another, and remembers what it took', () => {
    const taken = new Uint8Array(samples.length);
    const { members } = blobAbout({ ...SHAPE, samples }, 12 * SHAPE.width + 20, taken);
    expect(members.every((i) => taken[i] === 1)).to.equal(true);
    const again = blobAbout({ ...SHAPE, samples }, 12 * SHAPE.width + 20, taken);
    expect(again.members).to.have.length(1);
  });
});
