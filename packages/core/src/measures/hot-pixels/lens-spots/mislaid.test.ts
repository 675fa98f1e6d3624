import { expect } from 'chai';
import { mislaid, NO_SHIFT } from './mislaid.js';

const SHAPE = { width: 120, height: 68 };
/** Detail in every direction, several pixels wide. */
const scene = (x: number, y: number): number =>
  0.2 * Math.sin(x / 3.1 + 0.3 * y) + 0.15 * Math.cos(y / 2.7 - 0.2 * x) + 0.1 * Math.sin((x + y) / 4.3);
const picture = (at: (x: number, y: number) => number): Float32Array =>
  Float32Array.from({ length: SHAPE.width * SHAPE.height }, (_, i) =>
    at(i % SHAPE.width, Math.floor(i / SHAPE.width)),
  );
const now = picture(scene);
/** What a frame differs by that lies off by so much. */
const differenceAt = (dx: (x: number, y: number) => number, dy: number, dirt = 0): Float32Array =>
  picture((x, y) => scene(x, y) - scene(x - dx(x, y), y - dy) - (Math.hypot(x - 60, y - 30) < 6 ? dirt : 0));

/** How much better the frame of now could lie over one that differs from it so. */
const found = (difference: Float32Array, known = NO_SHIFT, frame = now) =>
  mislaid(difference, frame, SHAPE, known);

describe('how much better two frames could lie over one another', () => {
  it('is read from their difference, to a hundredth of a pixel', () => {
    const shift = found(differenceAt(() => 0.2, -0.15));
    expect(shift[0]).to.be.closeTo(0.2, 0.015);
    expect(shift[3]).to.be.closeTo(-0.15, 0.015);
    for (const k of [1, 2, 4, 5]) expect(shift[k]).to.be.closeTo(0, 0.03);
  });

  it('may change evenly over the picture, as read-out shears it', () => {
    const shift = found(differenceAt((_, y) => 0.3 * (y / SHAPE.height - 0.5), 0));
    expect(shift[2]).to.be.closeTo(0.3, 0.03);
    expect(shift[0]).to.be.closeTo(0, 0.015);
  });

  it('is not moved by dirt, and is added to what was known of it', () => {
    const known = NO_SHIFT.map((_, k) => (k === 3 ? 1 : 0));
    const shift = found(
      differenceAt(() => 0.1, 0, 0.3),
      known,
    );
    expect(shift[0]).to.be.closeTo(0.1, 0.015);
    expect(shift[3]).to.be.closeTo(1, 0.015);
  });

  it('is nothing where nothing is known, or nothing stands', () => {
    expect([
      ...mislaid(
        now.map(() => NaN),
        now,
        SHAPE,
        NO_SHIFT,
      ),
    ]).to.deep.equal([...NO_SHIFT]);
    const plain = picture(() => 0.4);
    for (const v of mislaid(
      picture(() => 0.05),
      plain,
      SHAPE,
      NO_SHIFT,
    ))
      expect(v).to.be.closeTo(0, 1e-6);
  });
});
