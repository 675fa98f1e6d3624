import { expect } from 'chai';
import { WavePicture } from '../../../../../tests/support/wave-picture.js';
import type { Level } from '../../picture/pyramid.js';
import { detailKept } from './carried-detail.js';
import { relativeDetail, type Detail } from './soft-frames.js';

const [W, H] = [240, 160];
const scene = new WavePicture(7);
const other = new WavePicture(23);

/** Detail of some three pixels, along both ways. */
const fine = (x: number, y: number): number =>
  0.6 * (Math.sin(1.7 * x + 0.5 * y) + Math.sin(0.6 * x - 1.6 * y));

/** The scene moved by so much; to the right of a column something finer that passes, blurred or not. */
const drawn = (dx: number, blur: number, passing = W, passingBlur = 0): Level => ({
  width: W,
  height: H,
  samples: Float32Array.from({ length: W * H }, (_, i) => {
    const [x, y] = [i % W, Math.floor(i / W)];
    const picture = x < passing ? scene : other;
    const by = x < passing ? blur : passingBlur;
    const at = (u: number): number => picture.at(x + u - dx, y) + fine(x + u - dx, y);
    return 20000 + 900 * (by > 0 ? (at(-by) + at(0) + at(by)) / 3 : at(0));
  }),
});

/** Places all over the left of the picture, carried along by the camera. */
const carried = (dx: number, to = W) =>
  Array.from({ length: 40 }, (_, k) => ({
    x: 20 + ((k * 37) % (to - 40)),
    y: 20 + ((k * 53) % (H - 40)),
    dx,
    dy: 0,
  }));

describe('detail of what the camera carries along', () => {
  it('stays where the picture only moves', () => {
    const kept = detailKept(drawn(0, 0), drawn(3, 0), carried(3))!;
    expect(kept.x).to.be.closeTo(0, 0.02);
    expect(kept.y).to.be.closeTo(0, 0.02);
  });

  it('is lost to a blur along its way, and comes back after it', () => {
    const lost = detailKept(drawn(0, 0), drawn(2, 2), carried(2))!;
    const found = detailKept(drawn(2, 2), drawn(0, 0), carried(-2))!;
    expect(lost.x).to.be.below(-0.2);
    expect(found.x).to.be.closeTo(-lost.x, 0.1);
  });

  it('is not lost where something else that passes is blurred', () => {
    const kept = detailKept(drawn(0, 0, 130), drawn(0, 0, 130, 3), carried(0, 130))!;
    expect(Math.abs(kept.x)).to.be.below(0.02);
  });

  it('is not told by a few places', () => {
    expect(detailKept(drawn(0, 0), drawn(0, 0), carried(0).slice(0, 5))).to.equal(null);
  });
});

describe('a frame of which only what passes is blurred', () => {
  const SHOT = [{ startFrame: 0, endFrame: 29 }];
  const details = Array.from({ length: 30 }, (_, f): Detail => {
    const share = f >= 10 && f < 14 ? 0.4 : 1;
    return { x: share, y: share, middleX: share, middleY: share };
  });

  it('is not soft while what stays keeps its detail', () => {
    const kept = details.map(() => ({ x: 0, y: 0 }));
    expect(Math.min(...relativeDetail(details, SHOT, kept))).to.be.closeTo(1, 1e-9);
  });

  it('is soft where what stays loses it too, or where nothing is known of that', () => {
    const fall = Math.log(0.5);
    const lost = details.map((_, f) =>
      f === 10 ? { x: fall, y: fall } : f === 14 ? { x: -fall, y: -fall } : { x: 0, y: 0 },
    );
    expect(relativeDetail(details, SHOT, lost)[12]).to.be.closeTo(0.5, 1e-9);
    expect(
      relativeDetail(
        details,
        SHOT,
        details.map((_, f) => (f === 10 || f === 14 ? null : { x: 0, y: 0 })),
      )[12],
    ).to.be.closeTo(0.4, 1e-9);
  });
});
