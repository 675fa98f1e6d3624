import { expect } from 'chai';
import { CubeUnusable, lumaSlopes, parseCube, transformOf } from './viewing.js';

const cube3 = (size: number, of: (r: number, g: number, b: number) => number[]): string => {
  const lines = [`# made for a test`, `TITLE "t"`, `LUT_3D_SIZE ${size}`];
  for (let b = 0; b < size; b++)
    for (let g = 0; g < size; g++)
      for (let r = 0; r < size; r++) lines.push(of(r / (size - 1), g / (size - 1), b / (size - 1)).join(' '));
  return lines.join('\n');
};

describe('viewing transforms', () => {
  it('reads a three-dimensional table with red fastest, and interpolates', () => {
    const swap = parseCube(
      cube3(5, (r, g, b) => [b, g, r]),
      'swap.cube',
    );
    swap([0.3, 0.6, 0.9]).forEach((v, i) => expect(v).to.be.closeTo([0.9, 0.6, 0.3][i], 1e-9));
  });

  it('reads a one-dimensional table over its own domain', () => {
    const table = parseCube(
      'LUT_1D_SIZE 3\nDOMAIN_MIN 0 0 0\nDOMAIN_MAX 2 2 2\n0 0 0\n0.5 0.5 0.5\n1 1 1\n',
      'half.cube',
    );
    table([1, 0.5, 3]).forEach((v, i) => expect(v).to.be.closeTo([0.5, 0.25, 1][i], 1e-9));
  });

  for (const [what, text, says] of [
    ['too few entries', 'LUT_1D_SIZE 3\n0 0 0\n1 1 1\n', '3 entries are announced, 2 are there'],
    ['a broken number', 'LUT_1D_SIZE 2\n0 0 x\n1 1 1\n', 'line 2'],
    ['no size', '0 0 0\n1 1 1\n', 'names no table size'],
    ['a stranger', 'LUT_1D_SIZE 2\nHELLO\n', '"HELLO"'],
  ] as const)
    it(`refuses ${what}, and says which line or what is missing`, () => {
      expect(() => parseCube(text, 'a.cube')).to.throw(CubeUnusable, says);
    });

  it('knows how much a lift steepens the shadows', () => {
    const lift = transformOf({ kind: 'lift', stops: 2 }, 'bt709');
    const [low] = lumaSlopes(lift, 0.2, 0, 0, 'bt709');
    const [none] = lumaSlopes(transformOf({ kind: 'lift', stops: 0 }, 'bt709'), 0.2, 0, 0, 'bt709');
    // Light times four is signal times 4^0.45 and an offset, above the linear foot.
    expect(none).to.be.closeTo(1, 1e-3);
    expect(low).to.be.closeTo(4 ** 0.45, 0.02);
  });
});
