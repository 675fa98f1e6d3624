import { seeded } from '@bevrin/rig';
import { expect } from 'chai';
import { WavePicture } from '../../../../tests/support/wave-picture.js';
import { smoothed, type Level } from '../picture/pyramid.js';
import { ROW_BANDS } from './camera-fit.js';
import { cameraMotion } from './camera.js';
import { STILL } from './similarity.js';
import { followTiles } from './tiles.js';

const [W, H] = [320, 180];
const scene = new WavePicture(5);
const other = new WavePicture(17);

/** The scene, moved; over a share of the width another picture that goes its own way. */
const drawn = (
  dx: number,
  dy: number,
  turn = 0,
  subject: { share: number; dx: number } | null = null,
  gain = 1,
): Level => {
  const samples = new Float32Array(W * H);
  for (let y = 0, i = 0; y < H; y++)
    for (let x = 0; x < W; x++, i++) {
      const [ux, uy] = [x - (W - 1) / 2, y - (H - 1) / 2];
      const inside = subject && Math.abs(ux) < (subject.share * W) / 2;
      const v = inside ? other.at(x - subject.dx, y) : scene.at(x - dx + turn * uy, y - dy - turn * ux);
      samples[i] = 4096 + gain * (18000 + 1200 * v);
    }
  return smoothed({ width: W, height: H, samples });
};

const motionFrom = (a: Level, b: Level, first = STILL) =>
  cameraMotion(followTiles(a, b, first, null, 4096), first, W, H)!;

describe('the camera from tiles', () => {
  it('is followed to a fiftieth of a pixel, with its turn', () => {
    const { motion, following } = motionFrom(drawn(0, 0), drawn(1.37, -0.62, 0.004));
    expect(motion.dx).to.be.closeTo(1.37, 0.02);
    expect(motion.dy).to.be.closeTo(-0.62, 0.02);
    expect(motion.turn).to.be.closeTo(0.004, 0.0004);
    expect(following).to.be.greaterThan(0.9);
  });

  it('is not drawn along by a subject that fills a third of the width, nor by light', () => {
    const { motion, otherwise } = motionFrom(
      drawn(0, 0, 0, { share: 0.34, dx: 0 }),
      drawn(0.8, 0.3, 0, { share: 0.34, dx: -3.2 }, 1.15),
    );
    expect(motion.dx).to.be.closeTo(0.8, 0.05);
    expect(motion.dy).to.be.closeTo(0.3, 0.05);
    expect(otherwise).to.be.within(0.15, 0.45);
  });

  it('is not drawn along by an arm that swings before a wall with a few faint marks', () => {
    const random = seeded(43);
    const about = (spread: number): number => spread * (random() + random() - 1);
    /** Where a tile lies, where it went, and how well that is known, both ways alike. */
    type Tile = readonly [x: number, y: number, dx: number, dy: number, known: number];
    // From the shoulder at the right edge on the arm is faster; the wall tells little, and elsewhere nothing.
    const arm = Array.from({ length: 90 }, (): Tile => {
      const [x, y] = [-110 + 260 * random(), -80 + 110 * random()];
      const out = (150 - x) / 260;
      return [x, y, -0.6 - 4 * out + about(0.3), -0.7 + 2.6 * out + 0.02 * y, 0.9];
    });
    const marks = Array.from({ length: 34 }, (): Tile => {
      return [-60 + 200 * random(), 45 + 40 * random(), 0.4 + about(0.15), -0.3 + about(0.15), 0.5];
    });
    const plain = Array.from({ length: 100 }, (): Tile => {
      return [-150 + 300 * random(), -85 + 170 * random(), about(4), about(4), 0.05];
    });
    const all = [...arm, ...marks, ...plain];
    const column = (k: number): Float64Array => Float64Array.from(all, (tile) => tile[k]);
    const known = Float64Array.from(all, (tile) => tile[4] / 2);
    const { motion } = cameraMotion(
      {
        count: all.length,
        x: column(0),
        y: column(1),
        dx: column(2),
        dy: column(3),
        xx: known,
        xy: new Float64Array(all.length),
        yy: known,
        found: new Uint8Array(all.length).fill(1),
        foundShare: 1,
      },
      STILL,
      W,
      H,
    )!;
    // The arm goes 0.6 to 4.6 px.
    expect(motion.dx).to.be.closeTo(0.4, 0.5);
    expect(motion.dy).to.be.closeTo(-0.3, 0.5);
  });

  it('is not held back by noise: a faint, blurred picture goes as far as a plain one', () => {
    const random = seeded(31);
    /** Low waves under grain that is half as high as they are; the grain is new in each picture. */
    const faint = (dx: number): Level =>
      smoothed({
        width: W,
        height: H,
        samples: Float32Array.from({ length: W * H }, (_, i) => {
          const [x, y] = [(i % W) - dx, Math.floor(i / W)];
          const wave = Math.sin(x / 5 + y / 9) + Math.sin(x / 11 - y / 6 + 2) + Math.sin(y / 4 + x / 17);
          return 20000 + 170 * wave + 300 * (random() - 0.5);
        }),
      });
    const errors = [1.2, -1.1, 0.9, -1.4].map((dx) => {
      const { motion } = motionFrom(faint(0), faint(dx));
      return Math.abs(motion.dx / dx - 1);
    });
    // Slopes of one picture alone hold its noise, and leave the motion a seventh short.
    expect(Math.max(...errors)).to.be.lessThan(0.07);
  });

  it('gives each row band the displacement of its middle, where the picture ends too', () => {
    // A sensor that reads row by row while the camera speeds up: each row lies further aside than the one above.
    const lean = 3;
    const leaning = (share: number): Level => {
      const samples = new Float32Array(W * H);
      for (let y = 0, i = 0; y < H; y++)
        for (let x = 0; x < W; x++, i++)
          samples[i] = 22096 + 1200 * scene.at(x - 0.4 - (share * lean * (y - (H - 1) / 2)) / H, y);
      return smoothed({ width: W, height: H, samples });
    };
    const { bands, motion } = motionFrom(leaning(0), leaning(1));
    expect(motion.dx).to.be.closeTo(0, 0.03);
    const across = Array.from({ length: ROW_BANDS }, (_, b) => bands[2 * b]);
    across.forEach((dx, b) =>
      expect(dx, `band ${b}`).to.be.closeTo(lean * ((b + 0.5) / ROW_BANDS - 0.5), 0.03),
    );
    // Tiles fit into the picture as a whole, so that those of the last bands lie nearer to its middle than these.
    expect(across[ROW_BANDS - 1] - across[0]).to.be.closeTo(lean * 0.9, 0.04);
  });

  it('looks for nothing where a mask lies', () => {
    const mask = new Uint8Array(W * H);
    for (let i = 0; i < mask.length; i++) if (i % W < W / 2) mask[i] = 1;
    const tiles = followTiles(drawn(0, 0), drawn(0.5, 0), STILL, mask, 4096);
    expect(tiles.count).to.be.greaterThan(20);
    for (let i = 0; i < tiles.count; i++) expect(tiles.x[i]).to.be.greaterThan(-8);
  });

  it('finds nothing to follow in a blank picture', () => {
    const blank: Level = { width: W, height: H, samples: new Float32Array(W * H).fill(20000) };
    expect(cameraMotion(followTiles(blank, blank, STILL, null, 4096), STILL, W, H)).to.equal(null);
  });
});
