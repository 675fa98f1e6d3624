import { expect } from 'chai';
import { normal, seeded } from '@bevrin/rig';
import { CELLS as COUNT, COLUMNS, ROWS } from './cells.js';
import { OtherWays, type OtherCourse } from './other-ways.js';
import type { TileMotions } from './tiles.js';

const SIZE = { width: 480, height: 270 };
const FRAME_RATE = 25;
/** One tile in the middle of each cell. */
const CELLS = Array.from({ length: COUNT }, (_, i) => ({
  column: i % COLUMNS,
  row: Math.floor(i / COLUMNS),
}));

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
  ways = new OtherWays(FRAME_RATE),
): OtherWays => {
  const random = seeded(5);
  const off = (): number => 0.02 * normal(random);
  ways.lost();
  for (let f = 0; f < frames; f++) {
    const motion = { ...followed(f), zoom: 0, turn: 0 };
    const going = CELLS.map((cell) => other(cell, f));
    const tiles = {
      count: CELLS.length,
      x: Float64Array.from(CELLS, ({ column }) => ((column + 0.5) / COLUMNS - 0.5) * SIZE.width),
      y: Float64Array.from(CELLS, ({ row }) => ((row + 0.5) / ROWS - 0.5) * SIZE.height),
      dx: Float64Array.from(going, (way) => (way ?? motion).dx + off()),
      dy: Float64Array.from(going, (way) => (way ?? motion).dy + off()),
      found: new Uint8Array(CELLS.length).fill(1),
    } as unknown as TileMotions;
    const bands = new Float64Array(2 * ROWS).fill(NaN);
    ways.take(tiles, { motion, bands, outliers: Uint8Array.from(going, (way) => (way ? 1 : 0)) }, SIZE);
  }
  return ways;
};

const stream = (): Going => ({ dx: 0.4, dy: 0.05 });
const post = ({ column }: Cell): Going | null => (column === 3 || column === 4 ? STAYS : null);

const stood = (ways: OtherWays): OtherCourse[] => ways.courses().filter(({ steps }) => steps === 'stands');

describe('a camera that stands still', () => {
  it('is told by a post that stands in what flows by, and the stream is what goes its own way', () => {
    const ways = watched(40, stream, post);
    const [course] = stood(ways);
    expect(course).to.include({ startFrame: 1, endFrame: 40 });
    expect(course.share).to.be.closeTo(2 / 16, 0.01);
    const { columns, share } = ways.outliers();
    expect(share[4 * columns + 3], 'the post').to.equal(0);
    expect(share[4 * columns + 10], 'the stream').to.equal(1);
  });

  it('is told where a face that fills the picture sways before a room, and nowhere else in the clip', () => {
    const room = ({ column }: Cell): Going | null => (column < 2 || column > 13 ? STAYS : null);
    const swaying = (f: number): Going => ({ dx: 2 * Math.sin(f / 6), dy: 0.3 });
    const ways = watched(60, swaying, room);
    watched(60, swaying, () => null, ways);
    expect(ways.courses().map((c) => [c.steps, c.startFrame, c.endFrame])).to.deep.equal([['stands', 1, 60]]);
  });

  it('is none that goes with all it shows, that carries a title or a clock, or that follows a runner', () => {
    const told = (other: Parameters<typeof watched>[2]): number => stood(watched(60, stream, other)).length;
    expect(told(() => null)).to.equal(0);
    expect(told(({ row, column }) => (row >= 7 && column > 2 && column < 13 ? STAYS : null))).to.equal(0);
    expect(told(({ row, column }) => (row === 0 && column > 12 ? STAYS : null))).to.equal(0);
    // A runner is kept in the middle, but never to a fraction of a pixel.
    const runner = ({ column }: Cell, f: number): Going | null =>
      column > 5 && column < 9 ? { dx: 0.12 * Math.sin(f / 3), dy: 0.15 * Math.cos(f / 2) } : null;
    expect(told(runner)).to.equal(0);
  });

  it('is not asked for where nothing goes a pixel, nor of cells that are lost on the way', () => {
    expect(stood(watched(60, (f) => ({ dx: 0.3 * Math.sin(f), dy: 0 }), post))).to.deep.equal([]);
    const ways = new OtherWays(FRAME_RATE);
    for (let shot = 0; shot < 20; shot++) watched(4, stream, post, ways);
    expect(ways.courses(), 'four frames each').to.deep.equal([]);
    const { columns, share } = ways.outliers();
    expect([share[columns + 3], share[columns + 9]], 'the post goes its own way').to.deep.equal([1, 0]);
  });
});

describe('what surrounds a subject that was followed', () => {
  const hand = (f: number): Going => ({ dx: 0.4 * Math.sin(1.1 * f), dy: 0.3 * Math.cos(0.9 * f) });
  /** A face goes with the hand, and sways: slowly, and in quick nods. */
  const face = (f: number): Going => ({
    dx: hand(f).dx + 1.2 * Math.sin(f / 5) + 0.5 * Math.sin(1.6 * f),
    dy: hand(f).dy + 0.8 * Math.cos(f / 4),
  });
  const isBehind = ({ column, row }: Cell): boolean => column < 4 || column > 11 || row === 0;
  const behind =
    (going: (cell: Cell, f: number) => Going) =>
    (cell: Cell, f: number): Going | null =>
      isBehind(cell) ? going(cell, f) : null;

  it('tells what the hand did, and the face is what goes its own way', () => {
    const ways = watched(
      60,
      face,
      behind((_, f) => hand(f)),
    );
    const [{ startFrame, endFrame, share, steps }] = ways.courses();
    expect([startFrame, endFrame]).to.deep.equal([1, 60]);
    expect(share).to.be.closeTo(CELLS.filter(isBehind).length / COUNT, 0.01);
    expect(steps).to.have.length(60);
    for (const [f, step] of (steps as Exclude<typeof steps, 'stands'>).entries()) {
      expect(step?.motion.dx, `frame ${f}`).to.be.closeTo(hand(f).dx, 0.03);
      expect(step?.motion.dy, `frame ${f}`).to.be.closeTo(hand(f).dy, 0.03);
      expect(step?.error.x, 'of some sixty cells, each 0.02 off').to.be.within(0.0005, 0.006);
    }
    const { columns, share: strange } = ways.outliers();
    expect(strange[5 * columns + 8], 'the face').to.equal(1);
    expect(strange[5 * columns + 1], 'the room').to.equal(0);
  });

  it('turns, and leans by what the sensor reads late', () => {
    const [turn, lean] = [0.004, 0.5];
    const place = ({ column, row }: Cell) => ({
      x: ((column + 0.5) / COLUMNS - 0.5) * SIZE.width,
      y: ((row + 0.5) / ROWS - 0.5) * SIZE.height,
    });
    const ways = watched(
      60,
      face,
      behind((cell, f) => {
        const { x, y } = place(cell);
        const to = Math.sin(1.1 * f);
        const late = (lean * Math.cos(1.1 * f) * y) / SIZE.height;
        return { dx: hand(f).dx + late - turn * to * y, dy: hand(f).dy + turn * to * x };
      }),
    );
    const [{ steps }] = ways.courses();
    const { motion, bands, known } = (steps as Exclude<typeof steps, 'stands'>)[30] ?? expect.fail('unknown');
    expect(motion.turn).to.be.closeTo(turn * Math.sin(33), 0.0003);
    expect(motion.dx).to.be.closeTo(hand(30).dx, 0.03);
    expect(bands[18] - bands[2], 'the last row from the second').to.be.closeTo(
      lean * Math.cos(33) * (8 / ROWS),
      0.06,
    );
    expect([known[0], known[18]], 'cells of the first row and of the last').to.deep.equal([16, 8]);
  });

  it('is not asked of frames in which it is not found', () => {
    const ways = new OtherWays(FRAME_RATE);
    const hidden = watched(
      60,
      face,
      behind((_, f) => (f > 20 && f < 26 ? { dx: NaN, dy: NaN } : hand(f))),
      ways,
    );
    const [{ steps }] = hidden.courses();
    const unknown = [...(steps as Exclude<typeof steps, 'stands'>).keys()].filter((f) => steps[f] === null);
    expect(unknown).to.deep.equal([21, 22, 23, 24, 25]);
  });

  it('is nothing that swings more than the scene, that lies at one side, or that a scene itself is', () => {
    const told = (followed: typeof hand, other: Parameters<typeof watched>[2]): number =>
      watched(60, followed, other).courses().length;
    expect(
      told(
        hand,
        behind((_, f) => ({ dx: 1.8 * hand(f).dx, dy: 1.8 * hand(f).dy })),
      ),
      'a frame of branches close by',
    ).to.equal(0);
    expect(
      told(face, ({ column }, f) => (column > 13 ? hand(f) : null)),
      'a door',
    ).to.equal(0);
    expect(
      told(hand, ({ column, row }, f) => (column > 4 && column < 11 && row > 3 ? face(f) : null)),
      'a face in the middle',
    ).to.equal(0);
    expect(
      told(hand, () => null),
      'nothing goes its own way',
    ).to.equal(0);
  });
});
