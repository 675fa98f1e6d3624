import { expect } from 'chai';
import { deadLeaves } from './leaves.js';
import { Texture, type Colour } from './texture.js';

const PALETTE: readonly Colour[] = [
  [0.6, 0.1, 0.1],
  [0.1, 0.1, 0.6],
];
const GROUND: Colour = [0.2, 0.4, 0.2];
/** So large that each leaf shows nearly one tone. */
const FEW = { smallest: 60, largest: 90, cover: 0.8 };

const plate = (width = 300, height = 280): Texture => {
  const texture = new Texture(width, height);
  texture.fill(GROUND);
  return texture;
};
const colourAt = (t: Texture, x: number, y: number): number[] => [
  ...t.rgba.subarray(4 * (y * t.width + x), 4 * (y * t.width + x) + 4),
];

describe('leaves that overlap', () => {
  it('are the same with the same seed and others with another', () => {
    const [one, same, other] = [plate(), plate(), plate()];
    deadLeaves(one, 5, PALETTE, undefined, FEW);
    deadLeaves(same, 5, PALETTE, undefined, FEW);
    deadLeaves(other, 6, PALETTE, undefined, FEW);
    expect(one.rgba).to.deep.equal(same.rgba);
    expect(one.rgba).not.to.deep.equal(other.rgba);
  });

  it('leave what they do not reach as it was, and the plate opaque', () => {
    const texture = plate();
    deadLeaves(texture, 3, PALETTE, { x: 0, y: 140, width: 300, height: 140 }, { ...FEW, largest: 70 });
    for (let x = 0; x < 300; x += 11) {
      // A leaf reaches up to its radius beyond the box.
      expect(colourAt(texture, x, 40)).to.deep.equal(colourAt(plate(), x, 40));
      for (let y = 0; y < 280; y += 13) expect(colourAt(texture, x, y)[3]).to.be.closeTo(1, 1e-5);
    }
  });

  it('cover one another wholly inside, whatever lies below, and mix with it at their rims alone', () => {
    const [onGreen, onWhite] = [plate(), plate()];
    onWhite.fill([5, 5, 5]);
    for (const texture of [onGreen, onWhite]) deadLeaves(texture, 9, PALETTE, undefined, FEW);
    let [inside, rim, outside] = [0, 0, 0];
    for (let i = 0; i < onGreen.rgba.length; i += 4) {
      const through = (onWhite.rgba[i] - onGreen.rgba[i]) / (5 - GROUND[0]);
      if (through < 1e-6) inside++;
      else if (through > 1 - 1e-6) outside++;
      else rim++;
    }
    expect(inside).to.be.greaterThan(20_000);
    expect(outside).to.be.greaterThan(5_000);
    expect(rim)
      .to.be.greaterThan(100)
      .and.lessThan(0.03 * inside);
  });

  it('show no seam where the rows that are painted at a time meet', () => {
    const texture = plate(300, 400);
    deadLeaves(texture, 2, PALETTE, undefined, { smallest: 150, largest: 199, cover: 3 });
    const step = (y: number): number => {
      let sum = 0;
      for (let x = 0; x < 300; x++)
        sum += Math.abs(colourAt(texture, x, y)[0] - colourAt(texture, x, y - 1)[0]);
      return sum / 300;
    };
    const rows = Array.from({ length: 398 }, (_, i) => i + 1);
    const usual = rows.map(step).sort((a, b) => a - b)[Math.floor(rows.length * 0.9)];
    for (const y of [128, 256, 384]) expect(step(y)).to.be.at.most(2 * usual);
  });

  it('lie on top of those that fell before', () => {
    // With many times more leaves than fit, only the last show: what lies under them changes nothing.
    const [few, many] = [plate(120, 120), plate(120, 120)];
    deadLeaves(few, 4, PALETTE, undefined, { smallest: 30, largest: 40, cover: 40 });
    many.fill([9, 9, 9]);
    deadLeaves(many, 4, PALETTE, undefined, { smallest: 30, largest: 40, cover: 40 });
    expect(Math.max(...few.rgba.map((v, i) => Math.abs(v - many.rgba[i])))).to.be.lessThan(1e-3);
  });
});
