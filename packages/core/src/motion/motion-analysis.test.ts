import { expect } from 'chai';
import { blackBarsOf } from './black-bars.js';
import { seeded } from '@bevrin/rig';
import { Mask } from '../picture/mask.js';
import { RunningMotionAnalysis } from './motion-analysis.js';
import { cadenceOf, RepeatFinder } from './repeats.js';

const [W, H] = [64, 36];
const picture = (of: (x: number, y: number) => number) => ({
  width: W,
  height: H,
  samples: Float32Array.from({ length: W * H }, (_, i) => of(i % W, Math.floor(i / W))),
});

describe('black bars', () => {
  const lit = (x: number, y: number): number => 20000 + 100 * x + 37 * y;
  it('are counted on each side', () => {
    const letterbox = picture((x, y) => (y < 4 || y >= H - 5 ? 4096 : lit(x, y)));
    expect(blackBarsOf(letterbox, 4800)).to.deep.equal({ top: 4, bottom: 5, left: 0, right: 0 });
    const pillars = picture((x, y) => (x < 8 || x >= W - 8 ? 4100 : lit(x, y)));
    expect(blackBarsOf(pillars, 4800)).to.deep.equal({ top: 0, bottom: 0, left: 8, right: 8 });
  });

  it('are not seen in a picture that is dark all over, nor in one without any', () => {
    expect(
      blackBarsOf(
        picture(() => 4096),
        4800,
      ),
    ).to.deep.equal({ top: 0, bottom: 0, left: 0, right: 0 });
    expect(blackBarsOf(picture(lit), 4800)).to.deep.equal({ top: 0, bottom: 0, left: 0, right: 0 });
  });
});

describe('repeated frames', () => {
  const moving = (f: number) => picture((x, y) => 20000 + 5000 * Math.sin((x + 1.3 * f) / 5 + y / 7));
  it('are found, a trace of difference notwithstanding, and their rhythm named', () => {
    const finder = new RepeatFinder();
    for (let f = 0; f < 40; f++) {
      const shown = f % 5 === 4 ? f - 1 : f;
      const { samples, ...size } = moving(shown);
      finder.take({ ...size, samples: samples.map((v, i) => v + (f % 5 === 4 && i % 3 === 0 ? 2 : 0)) });
    }
    const found = finder.finish();
    expect([...found]).to.deep.equal([4, 9, 14, 19, 24, 29, 34, 39]);
    expect(cadenceOf(found)).to.equal(5);
    // A picture that is held at the start is shown again and again, in no rhythm.
    expect(cadenceOf(new Set([1, 2, 3, 4]))).to.equal(null);
  });

  it('are none where nothing moves and a codec left out what stayed', () => {
    const finder = new RepeatFinder();
    for (let f = 0; f < 30; f++) {
      const { samples, ...size } = moving(0);
      finder.take({ ...size, samples: samples.map((v) => v + (f % 3 === 0 ? 20 : 0)) });
    }
    expect(finder.finish().size).to.equal(0);
  });

  it('count only where something moves: a held title repeats nothing, however its codec stores it', () => {
    const [width, height] = [160, 96];
    const random = seeded(4);
    const texture = Float32Array.from({ length: 400 * height }, () => 12000 + 30000 * random());
    /** Every second frame shows the one before again; the others differ by the movement, and by what a codec leaves. */
    const counted = (pxPerFrame: number): number => {
      const motion = new RunningMotionAnalysis(
        { width, height, bitDepth: 8, range: 'full', frameRate: '25/1' },
        new Mask([]),
      );
      for (let f = 0; f < 40; f++) {
        const shown = f - (f % 2);
        const samples = Uint16Array.from({ length: width * height }, (_, i) => {
          const x = (i % width) + Math.round(pxPerFrame * shown);
          const at = Math.floor(i / width) * 400 + x;
          return (
            (texture[at] + texture[at + 1] + texture[at + 400 * (i < width * (height - 1) ? 1 : 0)]) / 3 +
            ((i * 7 + shown * 13) % 11) * 40
          );
        });
        motion.take({ view: 'small', index: f, planes: [{ width, height, samples }] });
      }
      return motion.repeats().size;
    };
    expect(counted(2)).to.equal(20);
    expect(counted(0)).to.equal(0);
  });

  /** Frames of a movement, each coded anew: every sample a little off, each time otherwise. */
  const codedAnew = (places: readonly number[], off = 300): number[] => {
    const finder = new RepeatFinder();
    const random = seeded(11);
    for (const place of places) {
      const { samples, ...size } = moving(place);
      finder.take({ ...size, samples: samples.map((v) => v + off * (random() - 0.5)) });
    }
    return [...finder.finish()];
  };

  it('are found in a file that was coded anew, by their rhythm or by the jump after them', () => {
    const inRhythm = Array.from({ length: 40 }, (_, f) => (f % 5 === 4 ? f - 1 : f) * 0.6);
    expect(codedAnew(inRhythm)).to.deep.equal([4, 9, 14, 19, 24, 29, 34, 39]);
    const once = Array.from({ length: 40 }, (_, f) => (f === 17 ? 16 : f) * 0.6);
    expect(codedAnew(once)).to.deep.equal([17]);
  });

  it('are all found in a rhythm, also where a hand goes slowly beside some of them', () => {
    /** A pan that falters at times; every fifth frame shows the one before again, to the last bit or coded anew. */
    let at = 0;
    const faltering = Array.from({ length: 50 }, (_, f) => {
      if (f % 5 !== 3) at += [7, 9, 32, 34, 44].includes(f) ? 0.5 : 1.4;
      return at;
    });
    const all = [3, 8, 13, 18, 23, 28, 33, 38, 43, 48];
    const finder = new RepeatFinder();
    for (const place of faltering) finder.take(moving(place));
    expect([...finder.finish()], 'to the last bit').to.have.members(all);
    expect(codedAnew(faltering), 'coded anew').to.have.members(all);
  });

  it('are none where a hand turns back: it is still for a moment, and nothing jumps', () => {
    const swaying = Array.from({ length: 60 }, (_, f) => 3 * Math.cos((2 * Math.PI * (f - 0.5)) / 17));
    expect(codedAnew(swaying)).to.deep.equal([]);
  });

  it('are none where the camera only goes slower', () => {
    const finder = new RepeatFinder();
    for (let f = 0; f < 30; f++) finder.take(moving(f < 15 ? f : 15 + (f - 15) * 0.4));
    expect(finder.finish().size).to.equal(0);
    expect(cadenceOf(new Set([3, 9, 11, 30]))).to.equal(null);
  });
});

describe('shots of a camera that is followed', () => {
  const [width, height] = [320, 180];
  const random = seeded(8);
  /** Patches of many sizes with their own light, larger than any picture is moved. */
  const scene = (seed: number): Float32Array => {
    const own = seeded(seed);
    const out = new Float32Array(480 * 320).fill(20000);
    for (let k = 0; k < 900; k++) {
      const [x, y, w, h] = [480 * own(), 320 * own(), 4 + 40 * own() ** 2, 4 + 40 * own() ** 2];
      const light = 8000 + 40000 * own();
      for (let v = Math.floor(y); v < Math.min(320, y + h); v++)
        for (let u = Math.floor(x); u < Math.min(480, x + w); u++) out[480 * v + u] = light;
    }
    return out;
  };
  const [here, there] = [scene(3), scene(4)];
  /** Shots of a still camera that is torn aside in frame 12, or that is cut away from then. */
  const shotsOf = (of: (f: number) => { from: Float32Array; dx: number; dy: number }): number[] => {
    const motion = new RunningMotionAnalysis(
      { width, height, bitDepth: 8, range: 'full', frameRate: '25/1' },
      new Mask([]),
    );
    for (let f = 0; f < 24; f++) {
      const { from, dx, dy } = of(f);
      const samples = Uint16Array.from(
        { length: width * height },
        (_, i) => from[480 * (70 + dy + Math.floor(i / width)) + 80 + dx + (i % width)] + 200 * random(),
      );
      motion.take({ view: 'small', index: f, planes: [{ width, height, samples }] });
    }
    return motion.shots().map((s) => s.startFrame);
  };

  it('a bump that throws the picture aside in one frame is no cut, another picture is one', () => {
    expect(shotsOf((f) => ({ from: here, dx: f < 12 ? 0 : 22, dy: f < 12 ? 0 : -16 }))).to.deep.equal([0]);
    expect(shotsOf((f) => ({ from: f < 12 ? here : there, dx: 0, dy: 0 }))).to.deep.equal([0, 12]);
  });
});
