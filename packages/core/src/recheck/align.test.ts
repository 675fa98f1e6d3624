import { expect } from 'chai';
import { waveTable } from '../../../../tests/support/wave-picture.js';
import { alignRoughly, commonFrames, spreadOver, Thumbs } from './align.js';

const [WIDTH, HEIGHT] = [192, 108];

const sceneOf = (seed: number) => waveTable(seed, { width: WIDTH, height: HEIGHT, margin: 150 });
const scene = sceneOf(11);

interface Seen {
  /** Where the camera looks in the scene. */
  readonly x: number;
  readonly y: number;
  readonly enlarged?: number;
  readonly gain?: number;
}

/** A hand that holds a camera while it pans. */
const byHand = (frame: number): Seen => ({
  x: 0.9 * frame + 3 * Math.sin(0.9 * frame) + 2 * Math.sin(2.3 * frame),
  y: 2.5 * Math.cos(1.3 * frame),
});
const thumbsOf = (frames: readonly Seen[], of = scene): Thumbs => {
  const thumbs = new Thumbs();
  for (const { x, y, enlarged = 1, gain = 1 } of frames)
    thumbs.take({
      width: WIDTH,
      height: HEIGHT,
      samples: Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
        const u = (i % WIDTH) - WIDTH / 2;
        const v = Math.floor(i / WIDTH) - HEIGHT / 2;
        return 257 * gain * (110 + 9 * of.at(x + u / enlarged, y + v / enlarged));
      }),
    });
  return thumbs;
};
const range = (from: number, to: number, of: (frame: number) => Seen): Seen[] =>
  Array.from({ length: to - from }, (_, i) => of(from + i));

describe('a repaired clip in its original, by small pictures', function () {
  this.timeout(60_000);
  const original = thumbsOf(range(0, 30, byHand));

  it('lies where it lay, whole or a part of it, lighter or as it was', () => {
    for (const [from, to, gain] of [
      [0, 30, 1],
      [7, 24, 1],
      [5, 30, 1.1],
    ]) {
      const found = alignRoughly(original, thumbsOf(range(from, to, (f) => ({ ...byHand(f), gain }))))!;
      expect(found.offset, `frames ${from} to ${to}`).to.equal(from);
      expect(found.likeness).to.be.greaterThan(0.95);
      expect(found.steadied).to.equal(false);
      expect(Math.hypot(found.placement.dx, found.placement.dy)).to.be.below(0.3);
      expect(found.placement.a).to.be.closeTo(1, 0.003);
    }
  });

  it('is enlarged where it was cropped, and not taken for moved', () => {
    const found = alignRoughly(original, thumbsOf(range(4, 28, (f) => ({ ...byHand(f), enlarged: 1.1 }))))!;
    expect(found.offset).to.equal(4);
    expect(found.placement.a).to.be.closeTo(1.1, 0.004);
    expect(found.steadied).to.equal(false);
  });

  it('was moved from frame to frame where its path is another', () => {
    const held = range(0, 30, (f) => ({ x: 0.9 * f, y: 0 }));
    const found = alignRoughly(original, thumbsOf(held))!;
    expect(found.offset).to.be.within(-1, 1);
    expect(found.steadied).to.equal(true);
  });

  it('is not to be looked for in fewer than three frames, and unlike where it shows something else', () => {
    expect(alignRoughly(original, thumbsOf(range(0, 2, byHand)))).to.equal(null);
    const elsewhere = alignRoughly(original, thumbsOf(range(0, 20, byHand), sceneOf(12)));
    expect(elsewhere?.likeness ?? 0).to.be.below(0.8);
  });

  it('has frames in common from the later beginning to the earlier end', () => {
    expect(commonFrames(30, 20, 5)).to.deep.equal([0, 20]);
    expect(commonFrames(30, 20, 15)).to.deep.equal([0, 15]);
    expect(commonFrames(30, 20, -4), 'it begins before the original does').to.deep.equal([4, 20]);
    expect(spreadOver([4, 20], 4)).to.deep.equal([6, 10, 14, 18]);
    expect(spreadOver([4, 7], 12)).to.deep.equal([4, 5, 6]);
    expect(spreadOver([9, 4], 3)).to.deep.equal([]);
  });
});
