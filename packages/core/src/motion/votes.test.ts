import { expect } from 'chai';
import { WavePicture } from '../../../../tests/support/wave-picture.js';
import { withoutLocalMean, type Level } from '../picture/pyramid.js';
import { mostVotes } from './votes.js';

const [W, H] = [128, 72];
const STILL = { dx: 0, dy: 0, zoom: 0, turn: 0 };
const back = new WavePicture(17);
const subject = new WavePicture(29);

/** A background that moves one way and a subject in the middle that moves another. */
const scene = (
  t: number,
  share: number,
  [bx, by]: readonly [number, number],
  [sx, sy]: readonly [number, number],
): Level => {
  const level = back.seen(W, H, (x, y) => [2 * (x - bx * t), 2 * (y - by * t)]);
  const [left, right] = [Math.round((W * (1 - share)) / 2), Math.round((W * (1 + share)) / 2)];
  for (let y = 8; y < H - 8; y++)
    for (let x = left; x < right; x++)
      level.samples[y * W + x] = 26_000 + 3000 * subject.at(2 * (x - sx * t), 2 * (y - sy * t));
  return withoutLocalMean(level, 5);
};

describe('the vote of tiles', () => {
  it('follows the background when a subject fills a third of the width', () => {
    const motion = mostVotes(scene(0, 0.33, [2, -1], [-2, 1]), scene(1, 0.33, [2, -1], [-2, 1]), STILL);
    expect(motion.dx).to.be.closeTo(2, 0.3);
    expect(motion.dy).to.be.closeTo(-1, 0.3);
  });

  it('leaves a guess alone that most tiles agree with', () => {
    const first = { dx: 2.1, dy: -0.9, zoom: 0.001, turn: 0 };
    expect(mostVotes(scene(0, 0.2, [2, -1], [0, 2]), scene(1, 0.2, [2, -1], [0, 2]), first)).to.equal(first);
  });

  it('leaves the guess alone when the picture is blank', () => {
    const blank: Level = { width: W, height: H, samples: new Float32Array(W * H) };
    expect(mostVotes(blank, blank, STILL)).to.equal(STILL);
  });
});
