import { expect } from 'chai';
import type { ClipFacts } from '#terms';
import { measurementWith } from '../../../../../../tests/support/measurement.js';
import { judgeSuspects, kindOf } from './faults.js';
import { newTally } from './impulses.js';
import { RING_PLACES } from './isolation.js';
import type { Carried } from './stays-put.js';
import type { Suspect } from './suspect.js';

/** A dark place that keeps its level while a scene of changing light passes over it. */
const darkAt = (level: number): Suspect => {
  const frames = 10;
  const around = Array.from({ length: frames }, (_, f) => 0.3 + 0.04 * f);
  const sum = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0);
  return {
    x: 20,
    y: 20,
    index: 0,
    bright: false,
    before: { looks: 0, stoodOut: 0 },
    frames,
    stoodOut: frames,
    contrast: -0.2 * frames,
    contrastSquares: 0.2 ** 2 * frames,
    sides: new Float64Array(4).fill(sum(around)),
    along: new Float64Array(4),
    rings: new Float32Array(56),
    cover: [],
    covered: new Float64Array(),
    value: level * frames,
    valueSquares: level * level * frames,
    around: sum(around),
    aroundSquares: sum(around.map((v) => v * v)),
  };
};

describe('the kind of a fault', () => {
  // Codes over the span: in limited range black itself lies at 16/219.
  const limited = { bitDepth: 8, range: 'limited' } as const;
  const full = { bitDepth: 8, range: 'full' } as const;

  it('is dead for what gives nothing, and stuck for what keeps a level of its own, in either range', () => {
    expect(kindOf(darkAt(16 / 219 + 0.03), 0, limited)).to.equal('dead');
    expect(kindOf(darkAt(16 / 219 + 0.15), 0, limited)).to.equal('stuck');
    expect(kindOf(darkAt(0.03), 0, full)).to.equal('dead');
    expect(kindOf(darkAt(0.13), 0, full)).to.equal('stuck');
  });
});

describe('faults among what else stands still', () => {
  const [width, height, frames] = [960, 540, 12];
  const clip: ClipFacts = { ...measurementWith().clip, width, height, bitDepth: 8 };
  const tallies = [newTally(width, height), newTally(width / 2, height / 2), newTally(width / 2, height / 2)];
  /** A round dot on even ground, seen in every frame; contrast as a fraction of range, and its share in the samples beside it. */
  const dot = (x: number, y: number, plane: number, contrast: number, beside: number): [number, Suspect] => {
    const index = y * tallies[plane].width + x;
    return [
      index,
      {
        x,
        y,
        index,
        bright: contrast > 0,
        before: { looks: 0, stoodOut: 0 },
        frames,
        stoodOut: frames,
        contrast: contrast * frames,
        contrastSquares: contrast ** 2 * frames,
        sides: new Float64Array(4).fill(frames * (0.02 + beside * contrast)),
        along: new Float64Array(4).fill(contrast * frames),
        rings: Float32Array.from(RING_PLACES, (_, k) => frames * (0.02 + 0.002 * (k % 2))),
        cover: [],
        covered: new Float64Array(),
        value: frames * (0.02 + contrast),
        valueSquares: frames * (0.02 + contrast) ** 2,
        around: frames * 0.02,
        aroundSquares: frames * 0.02 ** 2,
      },
    ];
  };
  type Dot = [number, Suspect];
  /** Lets each dot know what lies at its place in the other planes. */
  const lay = (planes: Dot[][]): Map<number, Suspect>[] => {
    const half = (plane: number): number => (plane === 0 ? 1 : 0);
    const isAt = (s: Suspect, p: number) => (o: Suspect, q: number) =>
      s.x >> half(p) === o.x >> half(q) && s.y >> half(p) === o.y >> half(q);
    planes.forEach((dots, p) =>
      dots.forEach((dot) => {
        const at = planes.map(
          (others, q) => others.find(([, o]) => isAt(dot[1], p)(o, q))?.[1].contrast ?? 0,
        );
        const cover = planes.map((_, start) => ({ columns: 1, rows: 1, start }));
        dot[1] = { ...dot[1], cover, covered: Float64Array.from(at) };
      }),
    );
    return planes.map((dots) => new Map(dots));
  };
  const HELD: Carried = { moved: false, pointed: [] };
  const FOLLOWED: Carried = {
    moved: true,
    pointed: Array.from({ length: frames }, (_, f) => ({ x: 9 * f, y: 0 })),
  };
  const judged = (luma: Dot[], blue: Dot[], red: Dot[] = [], carried = HELD) =>
    judgeSuspects(lay([luma, blue, red]), tallies, frames, clip, carried, [0.001, 0.001, 0.001]);
  // A lens draws lamps: half of each lies in the samples beside it.
  const lamp = (x: number, y: number): [number, Suspect] => dot(x, y, 0, 0.3, 0.5);
  const site = dot(204, 41, 1, 0.13, 0.2);

  it('are told though they are faint, where the ground is even all around them', () => {
    const faint = dot(300, 200, 0, 0.05, 0.1);
    expect(judged([faint], []).pixels).to.have.length(1);
    const inDetail = dot(600, 300, 0, 0.05, 0.1);
    inDetail[1].rings.forEach((_, k, rings) => (rings[k] = frames * (0.02 + 0.04 * (k % 2))));
    expect(judged([inDetail], []).pixels).to.have.length(0);
    expect(judged([dot(300, 200, 0, 0.02, 0.1)], []).pixels, 'fainter than one sees').to.have.length(0);
  });

  it('are told by a colour that no lens draws, also where a few dots of the scene lie elsewhere', () => {
    expect(judged([], [site]).pixels[0]).to.include({
      x: 408,
      y: 82,
      kind: 'hot',
      channel: 'blue',
      seenPct: 100,
    });
    const { pixels, uncertain } = judged([lamp(100, 400), lamp(700, 300), lamp(640, 500)], [site]);
    expect(pixels.map(({ x, y }) => [x, y])).to.deep.equal([[408, 82]]);
    expect(uncertain.map(({ x, y }) => [x, y])).to.deep.equal([
      [700, 300],
      [100, 400],
      [640, 500],
    ]);
  });

  it('are none where colour alone shows them, and of no one photosite', () => {
    // Blue and red at once: the fringe of an edge, as a lens draws it.
    const fringe = [dot(204, 41, 1, 0.13, 0.2), dot(204, 41, 2, 0.13, 0.2)] as const;
    for (const carried of [HELD, FOLLOWED]) {
      const { pixels, uncertain } = judged([], [fringe[0]], [fringe[1]], carried);
      expect(pixels, 'faults').to.deep.equal([]);
      expect(uncertain, 'places that cannot be told').to.deep.equal([]);
      expect(judged([], [site], [], carried).pixels, 'of blue alone').to.have.length(1);
    }
  });

  it('are told of green that is wanting in both planes of colour, where a grey dot as alone is not', () => {
    const onUnevenGround = (one: Dot): Dot => {
      const { contrast, rings } = one[1];
      rings.forEach((_, k) => (rings[k] = frames * 0.02 + 0.4 * contrast * (k % 2)));
      return one;
    };
    const grey = onUnevenGround(dot(600, 300, 0, 0.3, 0.3));
    const green = onUnevenGround(dot(408, 82, 0, 0.3, 0.3));
    const wanting = onUnevenGround(dot(204, 41, 1, -0.05, 0.3));
    const { pixels, uncertain } = judged([grey, green], [wanting], [wanting]);
    expect(pixels).to.have.length(1);
    expect(pixels[0]).to.include({ x: 408, y: 82, kind: 'hot', channel: 'green' });
    expect(uncertain.map(({ x, y }) => [x, y])).to.deep.equal([[600, 300]]);
    // Chroma of four samples in one takes more from red and blue than there is; light of another colour adds to them.
    const strongly = onUnevenGround(dot(204, 41, 1, -0.1, 0.3));
    expect(judged([grey, green], [strongly], [strongly]).pixels[0]).to.include({ x: 408, channel: 'green' });
    const yellow = onUnevenGround(dot(204, 41, 1, -0.06, 0.3));
    expect(judged([grey, green], [yellow], [onUnevenGround(dot(204, 41, 2, 0.005, 0.3))]).pixels).to.be.empty;
    // More of it beside: no mosaic spreads green so far.
    const spread = onUnevenGround(dot(408, 82, 0, 0.3, 0.58));
    expect(judged([grey, spread], [wanting], [wanting]).pixels).to.deep.equal([]);
    // A leaf or a lamp lies anywhere: more of it on one side.
    const besides = onUnevenGround(dot(408, 82, 0, 0.3, 0.5));
    besides[1].sides[0] += 0.05 * frames;
    expect(judged([grey, besides], [wanting], [wanting]).pixels).to.deep.equal([]);
    // What gives no green takes it from the light: red and blue rise.
    const dead = onUnevenGround(dot(408, 82, 0, -0.3, 0.2));
    const added = onUnevenGround(dot(204, 41, 1, 0.05, 0.3));
    expect(judged([grey, dead], [added], [added]).pixels[0]).to.include({ x: 408, channel: 'green' });
  });

  it('are not told of a lamp among lamps, of whatever colour it is', () => {
    const row = [192, 288, 312, 386, 548, 666, 739].map((x) => lamp(x, 83));
    const { pixels, uncertain } = judged(row, [site]);
    expect(pixels).to.deep.equal([]);
    expect(uncertain).to.have.length(8);
    expect(uncertain.find((u) => u.x === 408)!.because).to.contain('among so many dots');
  });

  it('are not told of one among many dots of a scene, where one looks like it by chance, but of four', () => {
    // Far from each other, and no two in a row or in a column.
    const lamps = Array.from({ length: 12 }, (_, k) => lamp(40 + 76 * k, 30 + ((k * 5) % 12) * 42));
    const one = judged(lamps, [site]);
    expect(one.pixels).to.deep.equal([]);
    expect(one.uncertain.find((u) => u.x === 408)!.because).to.contain('among so many dots');
    const others = [dot(30, 240, 1, 0.13, 0.2), dot(330, 18, 1, 0.13, 0.2), dot(440, 160, 1, 0.13, 0.2)];
    expect(judged(lamps, [site, ...others]).pixels).to.have.length(4);
  });

  it('are told where what is followed passes over them, but not where detail about them stands as still', () => {
    const there = dot(400, 200, 0, 0.2, 0.1);
    // A piece of an edge: it stands out of what lies beside it, not of what lies above and below.
    const edge = (x: number, y: number): Dot => {
      const one = dot(x, y, 0, 0.2, 0.1);
      one[1].along[1] = 0;
      return one;
    };
    const far = [edge(40, 500), edge(900, 40), edge(910, 480), edge(60, 30)];
    expect(judged([there, ...far], [], [], FOLLOWED).pixels).to.have.length(1);
    const near = [edge(408, 190), edge(385, 207), edge(412, 214), edge(391, 181)];
    const { pixels, uncertain } = judged([there, ...near], [], [], FOLLOWED);
    expect(pixels).to.deep.equal([]);
    expect(uncertain).to.deep.equal([{ x: 400, y: 200, because: 'the scene about it stands still' }]);
  });

  it('of one colour are told by hand though brighter ground hid them at first, where a grey dot came to lie there', () => {
    /** Seen in three of sixteen looks, and in all since. */
    const hidden = (x: number, y: number, plane: number, contrast: number): Dot => {
      const [index, s] = dot(x, y, plane, contrast, 0.25);
      s.rings.forEach((_, k) => (s.rings[k] = frames * (0.02 + 0.5 * contrast * (k % 2))));
      return [index, { ...s, before: { looks: 16, stoodOut: 3 } }];
    };
    const wanting = hidden(200, 100, 1, -0.04);
    const luma = [hidden(400, 200, 0, 0.2), hidden(600, 300, 0, 0.2)];
    const told = judged(luma, [wanting], [wanting], FOLLOWED).pixels;
    expect(told.map(({ x, y, channel }) => [x, y, channel])).to.deep.equal([[400, 200, 'green']]);
  });
});
