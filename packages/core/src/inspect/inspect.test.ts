import { expect } from 'chai';
import type { ClipFacts } from '#document';
import { measurementWith } from '../../../../tests/support/measurement.js';
import { WavePicture } from '../../../../tests/support/wave-picture.js';
import type { Plane } from '../picture/frame.js';
import { paintContours } from './contours.js';
import { paintDifference } from './difference.js';
import { lineOf } from './line.js';
import { paintMask } from './mask-picture.js';
import { paintNoise } from './noise-picture.js';
import { patchOf } from './patch.js';
import { pointAt } from './point.js';
import { SPECTRUM_SIDE, spectrumAt } from './spectrum.js';
import { tilesOf } from './tiles.js';

const facts: ClipFacts = {
  ...(({
    activePicture: _a,
    duplicateFrames: _b,
    lostBefore: _c,
    repeatEvery: _d,
    blockiness: _e,
    measuredAs: _f,
    ...clip
  }) => clip)(measurementWith().clip),
  bitDepth: 8,
};

/** Repeatable normal noise. */
const gaussian = (seed: number): (() => number) => {
  let state = seed;
  const random = (): number => (state = (state * 16807) % 2147483647) / 2147483647;
  return () => Math.sqrt(-2 * Math.log(random())) * Math.cos(2 * Math.PI * random());
};
const plane = (width: number, height: number, at: (x: number, y: number) => number): Plane => {
  const samples = new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) samples[y * width + x] = Math.max(0, Math.min(255, Math.round(at(x, y))));
  return { width, height, samples };
};
const withNoise = (width: number, height: number, sigmaPct: number, seed: number): Plane => {
  const noise = gaussian(seed);
  return plane(width, height, (x) => 90 + 0.05 * x + (sigmaPct / 100) * 219 * noise());
};

describe('what a page reads by itself', () => {
  it('one pixel: its codes, its level, and how it spreads about a slope', () => {
    const luma = withNoise(64, 64, 2, 5);
    const chroma = plane(32, 32, (x, y) => 100 + x + y);
    const seen = pointAt([luma, chroma, chroma], facts, 40, 20)!;
    expect(seen.codes).to.deep.equal([luma.samples[20 * 64 + 40], 130, 130]);
    expect(seen.levelPct).to.be.closeTo((100 * (seen.codes[0] - 16)) / 219, 1e-9);
    expect(seen.sigmaPct).to.be.within(1.3, 2.7);
    expect(pointAt([luma], facts, 64, 0)).to.equal(null);
    const slope = plane(64, 64, (x, y) => 20 + 2 * x + y);
    expect(pointAt([slope], facts, 30, 30)!.sigmaPct, 'a slope is not noise').to.be.lessThan(0.01);
  });

  it('what was taken between two frames, amplified about a middle grey', () => {
    const grey = plane(16, 8, () => 128);
    const before = plane(32, 16, () => 100);
    const after = plane(32, 16, (x) => (x < 16 ? 100 : 98));
    const out = new Uint8ClampedArray(4 * 32 * 16);
    paintDifference([before, grey, grey], [after, grey, grey], facts, 8, out);
    expect([...out.slice(0, 4)]).to.deep.equal([128, 128, 128, 255]);
    const taken = 4 * 20;
    expect(out[taken]).to.be.closeTo(127.5 + (8 * 255 * 2) / 219, 1);
    expect([out[taken + 1], out[taken + 2]]).to.deep.equal([out[taken], out[taken]]);
  });

  it('the places that a treatment would take, in white on the darkened frame', () => {
    const grey = plane(16, 8, () => 128);
    const out = new Uint8ClampedArray(4 * 32 * 16);
    paintMask(
      [plane(32, 16, () => 126), grey, grey],
      plane(32, 16, (x) => (x === 5 ? 255 : 0)),
      facts,
      out,
    );
    expect([...out.slice(20, 24)]).to.deep.equal([255, 255, 255, 255]);
    expect(out[24]).to.be.within(40, 80);
  });

  it('the noise of a patch within 15 %, by the same measure as for the whole clip', () => {
    const grey = plane(160, 120, () => 128);
    const [first, second] = [withNoise(320, 240, 2, 7), withNoise(320, 240, 2, 8)];
    const { levelPct, noise } = patchOf([first, grey, grey], [second, grey, grey], facts, {
      x: 40,
      y: 40,
      width: 200,
      height: 160,
    });
    expect(levelPct).to.be.closeTo((100 * (90 + 0.05 * 140 - 16)) / 219, 0.3);
    expect(noise.state === 'measured' && noise.values.lumaPct).to.be.closeTo(2, 0.3);
  });

  it('that a patch is too small to hold noise, in words', () => {
    const { noise } = patchOf([withNoise(320, 240, 2, 7)], [withNoise(320, 240, 2, 8)], facts, {
      x: 40,
      y: 40,
      width: 20,
      height: 20,
    });
    expect(noise.state === 'notMeasurable' && noise.reason).to.contain('draw a larger one');
  });

  for (const sigma of [0.8, 1.5, 2.5])
    it(`an edge of ${sigma} px under a line within 25 % + 0.2`, () => {
      const step = (d: number): number => {
        const t = 1 / (1 + 0.3275911 * (Math.abs(d) / (sigma * Math.SQRT2)));
        const tail =
          t *
          (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429)))) *
          Math.exp(-(d * d) / (2 * sigma * sigma));
        return d > 0 ? 1 - tail / 2 : tail / 2;
      };
      // Blurred in light, stored through the transfer: a slanted edge.
      const light = (x: number, y: number): number => 0.08 + 0.3 * step((x - 60) * 0.97 - (y - 60) * 0.24);
      const signal = (l: number): number => (l < 0.018 ? 4.5 * l : 1.099 * l ** 0.45 - 0.099);
      const edge = plane(120, 120, (x, y) => 16 + 219 * signal(light(x, y)));
      const seen = lineOf(edge, facts, [40, 60], [80, 60]);
      expect(seen.blurSigmaPx).to.be.closeTo(sigma, 0.25 * sigma + 0.2);
      expect(seen.edge!.x).to.be.closeTo(60, 2);
      expect(seen.profile[0].levelPct).to.be.lessThan(seen.profile.at(-1)!.levelPct);
    });

  it('that no step lies under a line', () => {
    expect(
      lineOf(
        plane(64, 64, () => 90),
        facts,
        [10, 10],
        [50, 50],
      ).blurSigmaPx,
    ).to.equal(null);
  });

  it('the movement of the picture, and what goes its own way', () => {
    const waves = new WavePicture(31);
    const value = (x: number, y: number): number => 120 + 12 * waves.at(2 * x, 2 * y);
    const inside = (x: number, y: number, about = 0): boolean =>
      x > 200 - about && x < 300 + about && y > 80 - about && y < 180 + about;
    const first = plane(400, 260, value);
    const second = plane(400, 260, (x, y) => (inside(x, y) ? value(x + 4, y) : value(x - 2, y - 1)));
    const tiles = tilesOf(first, second, facts)!;
    const going = tiles.filter((t) => !t.follows);
    const following = tiles.filter((t) => t.follows);
    expect(following.length).to.be.greaterThan(60);
    // A tile on the border of the two sees both.
    const right = following.filter((t) => Math.abs(t.dx - 2) < 0.3 && Math.abs(t.dy - 1) < 0.3);
    expect(right.length / following.length).to.be.greaterThan(0.95);
    expect(going.length).to.be.greaterThan(5);
    expect(going.filter((t) => inside(t.x, t.y, 16)).length / going.length).to.be.greaterThan(0.8);
  });

  it('the noise without the picture, and where the frames do not match says so', () => {
    const waves = new WavePicture(9);
    const value = (x: number, y: number): number => 120 + 12 * waves.at(2 * x, 2 * y);
    const out = new Uint8ClampedArray(4 * 200 * 160);
    const [first, moved] = [plane(200, 160, value), plane(200, 160, (x, y) => value(x - 3, y))];
    expect(paintNoise([first], [moved], facts, 8, out)).to.equal(true);
    const inner = Array.from({ length: 100 }, (_, i) => out[4 * (80 * 200 + 50 + i)]);
    expect(
      Math.max(...inner.map((v) => Math.abs(v - 127.5))),
      'a picture that moved leaves no noise',
    ).to.be.lessThan(30);
  });

  it('contours only where the level steps by a little, and only in the places that were found', () => {
    const steps = plane(64, 32, (x) => 60 + Math.floor(x / 8));
    const out = new Uint8ClampedArray(4 * 64 * 32);
    paintContours(
      steps,
      8,
      [{ x: 0, y: 0, width: 32, height: 32, startFrame: 0, endFrame: 0, strength: 1 }],
      out,
    );
    const drawn = (x: number): boolean => out[4 * (10 * 64 + x) + 3] === 255;
    expect([7, 15, 23].every(drawn)).to.equal(true);
    expect([3, 12, 39, 47].some(drawn)).to.equal(false);
  });

  it('the frequency of a pattern, where it stands in the spectrum', () => {
    const stripes = plane(100, 100, (x) => 120 + 40 * Math.cos((2 * Math.PI * x) / 8));
    const power = spectrumAt(stripes, { x: 20, y: 20, width: 60, height: 60 })!;
    const middle = SPECTRUM_SIDE / 2;
    const strongest = power.indexOf(Math.max(...power));
    expect(Math.abs((strongest % SPECTRUM_SIDE) - middle)).to.equal(SPECTRUM_SIDE / 8);
    expect(Math.floor(strongest / SPECTRUM_SIDE)).to.equal(middle);
    expect(
      spectrumAt(
        plane(40, 40, () => 9),
        { x: 0, y: 0, width: 40, height: 40 },
      ),
    ).to.equal(null);
  });
});
