import { expect } from 'chai';
import { normal, seeded } from '@bevrin/rig';
import { Standing } from './standing.js';
import type { TileMotions } from './tiles.js';

const SIZE = { width: 480, height: 270 };
/** One tile in the middle of each cell of 16 by 9. */
const CELLS = Array.from({ length: 16 * 9 }, (_, i) => ({ column: i % 16, row: Math.floor(i / 16) }));

interface Going {
  readonly dx: number;
  readonly dy: number;
}
const STAYS: Going = { dx: 0, dy: 0 };
type Cell = (typeof CELLS)[number];

/** What is followed, and cells that go another way, through so many frames. */
const watched = (
  frames: number,
  followed: (frame: number) => Going,
  other: (cell: Cell, frame: number) => Going | null,
  standing = new Standing(),
): Standing => {
  const random = seeded(5);
  const off = (): number => 0.02 * normal(random);
  standing.lost();
  for (let f = 0; f < frames; f++) {
    const motion = { ...followed(f), zoom: 0, turn: 0 };
    const ways = CELLS.map((cell) => other(cell, f));
    const tiles = {
      count: CELLS.length,
      x: Float64Array.from(CELLS, ({ column }) => ((column + 0.5) / 16 - 0.5) * SIZE.width),
      y: Float64Array.from(CELLS, ({ row }) => ((row + 0.5) / 9 - 0.5) * SIZE.height),
      dx: Float64Array.from(ways, (way) => (way ?? motion).dx + off()),
      dy: Float64Array.from(ways, (way) => (way ?? motion).dy + off()),
      found: new Uint8Array(CELLS.length).fill(1),
    } as unknown as TileMotions;
    standing.take(tiles, { motion, outliers: Uint8Array.from(ways, (way) => (way ? 1 : 0)) }, SIZE);
  }
  return standing;
};

const stream = (): Going => ({ dx: 0.4, dy: 0.05 });
const post = ({ column }: Cell): Going | null => (column === 3 || column === 4 ? STAYS : null);

describe('a camera that stands still', () => {
  it('is told by a post that stands in what flows by, and the stream is what goes its own way', () => {
    const standing = watched(40, stream, post);
    const [stood] = standing.stoodStill();
    expect(stood).to.include({ startFrame: 1, endFrame: 40 });
    expect(stood.share).to.be.closeTo(2 / 16, 0.01);
    const { columns, share } = standing.outliers();
    expect(share[4 * columns + 3], 'the post').to.equal(0);
    expect(share[4 * columns + 10], 'the stream').to.equal(1);
  });

  it('is told where a face that fills the picture sways before a room, and nowhere else in the clip', () => {
    const room = ({ column }: Cell): Going | null => (column < 2 || column > 13 ? STAYS : null);
    const standing = watched(60, (f) => ({ dx: 2 * Math.sin(f / 6), dy: 0.3 }), room);
    watched(
      60,
      (f) => ({ dx: 2 * Math.sin(f / 6), dy: 0.3 }),
      () => null,
      standing,
    );
    expect(standing.stoodStill().map((s) => [s.startFrame, s.endFrame])).to.deep.equal([[1, 60]]);
  });

  it('is none that goes with all it shows, that carries a title or a clock, or that follows a runner', () => {
    const told = (other: Parameters<typeof watched>[2]): number =>
      watched(60, stream, other).stoodStill().length;
    expect(told(() => null)).to.equal(0);
    expect(told(({ row, column }) => (row >= 7 && column > 2 && column < 13 ? STAYS : null))).to.equal(0);
    expect(told(({ row, column }) => (row === 0 && column > 12 ? STAYS : null))).to.equal(0);
    // A runner is kept in the middle, but never to a fraction of a pixel.
    const runner = ({ column }: Cell, f: number): Going | null =>
      column > 5 && column < 9 ? { dx: 0.12 * Math.sin(f / 3), dy: 0.15 * Math.cos(f / 2) } : null;
    expect(told(runner)).to.equal(0);
  });

  it('is not asked for where nothing goes a pixel, nor of cells that are lost on the way', () => {
    expect(watched(60, (f) => ({ dx: 0.3 * Math.sin(f), dy: 0 }), post).stoodStill()).to.deep.equal([]);
    const standing = new Standing();
    for (let shot = 0; shot < 20; shot++) watched(4, stream, post, standing);
    expect(standing.stoodStill(), 'four frames each').to.deep.equal([]);
    const { columns, share } = standing.outliers();
    expect([share[columns + 3], share[columns + 9]], 'the post goes its own way').to.deep.equal([1, 0]);
  });
});
