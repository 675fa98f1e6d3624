import { expect } from 'chai';
import { seeded } from '@bevrin/rig';
import { areScattered } from './scattered.js';

const SIZE = { width: 400, height: 225 };

describe('whether specks lie anywhere', () => {
  const random = seeded(91);
  const anywhere = (count: number) =>
    Array.from({ length: count }, () => ({ x: SIZE.width * random(), y: SIZE.height * random() }));
  /** About one point, as the parts of one thing that moves. */
  const about = (count: number, x: number, y: number, wide: number) =>
    Array.from({ length: count }, () => ({ x: x + wide * (random() - 0.5), y: y + wide * (random() - 0.5) }));
  const shareScattered = (draw: () => { x: number; y: number }[]): number =>
    Array.from({ length: 300 }, () => areScattered(draw(), SIZE)).filter(Boolean).length / 300;

  it('is said of nearly all that do, few or many: one in a hundred is given up', () => {
    for (const count of [4, 8, 20, 60])
      expect(
        shareScattered(() => anywhere(count)),
        `${count}`,
      ).to.be.within(0.97, 1);
  });

  it('is not said of the parts of one thing, were it as wide as a quarter of the picture', () => {
    for (const count of [8, 20, 60]) {
      expect(
        shareScattered(() => about(count, 200, 110, 60)),
        `${count}, small`,
      ).to.equal(0);
      expect(
        shareScattered(() => about(count, 90, 100, 100)),
        `${count}, wide`,
      ).to.be.below(0.05);
    }
  });

  it('is said of one or two, of which nothing is known', () => {
    expect(areScattered([], SIZE)).to.equal(true);
    expect(areScattered(about(2, 100, 100, 4), SIZE)).to.equal(true);
  });
});
