import { expect } from 'chai';
import { mean } from '../../maths/robust.js';
import type { Level } from '../../picture/pyramid.js';
import { LightFollower } from './light.js';

const [WIDTH, HEIGHT] = [240, 150];
const CLIP = { bitDepth: 8, range: 'full', transfer: 'linear' } as const;
const picture = (of: (x: number, y: number) => number): Level => ({
  width: WIDTH,
  height: HEIGHT,
  samples: Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => of(i % WIDTH, Math.floor(i / WIDTH))),
});
const EVEN = picture(() => 0);
const scene = (x: number, y: number): number => 22000 + 6000 * Math.sin(x / 9 + y / 13);
/** What covers more than half of the picture, and brightens while the scene does not. */
const COVERED = 0.58 * WIDTH;
const near = (gain: number): Level => picture((x, y) => scene(x, y) * (x < COVERED ? gain : 1));

/** Log of the light of the second picture over the first. */
const stepOf = (second: Level, strangers: readonly { x: number; y: number }[] = []): number | null => {
  const follower = new LightFollower(CLIP);
  follower.take(near(1), EVEN, null);
  const steps = follower.take(second, EVEN, null, null, strangers);
  return steps && mean(steps.light);
};
/** Places all over what covers the picture. */
const covering = Array.from({ length: 40 * 30 }, (_, i) => ({
  x: ((i % 40) / 40) * 0.57,
  y: Math.floor(i / 40) / 30,
}));

describe('the light of a picture', () => {
  it('is followed where all of it changes', () => {
    expect(stepOf(picture((x, y) => 1.2 * scene(x, y)))).to.be.closeTo(Math.log(1.2), 0.01);
  });

  it('is not that of a thing that goes its own way, however much it covers', () => {
    expect(stepOf(near(1.2)), 'nobody knows that it is a thing').to.be.closeTo(Math.log(1.2), 0.02);
    expect(stepOf(near(1.2), covering)).to.be.closeTo(0, 0.01);
  });

  it('is followed all the same where nearly everything goes its own way', () => {
    const everywhere = covering.map(({ x, y }) => ({ x: x / 0.58, y }));
    expect(
      stepOf(
        picture((x, y) => 1.2 * scene(x, y)),
        everywhere,
      ),
    ).to.be.closeTo(Math.log(1.2), 0.01);
  });
});
