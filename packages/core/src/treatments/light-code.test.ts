import { expect } from 'chai';
import { LightCode } from './light-code.js';

const LIMITED = { bitDepth: 8, range: 'limited', transfer: 'bt709' } as const;

describe('light of a stored code', () => {
  for (const clip of [
    LIMITED,
    { bitDepth: 10, range: 'full', transfer: 'srgb' },
    { bitDepth: 10, range: 'limited', transfer: 'hlg' },
    { bitDepth: 12, range: 'limited', transfer: 'pq' },
    { bitDepth: 8, range: 'full', transfer: 'linear' },
  ] as const)
    it(`leads back to it: ${clip.bitDepth} bits, ${clip.range} range, ${clip.transfer}`, () => {
      const light = new LightCode(clip);
      for (let code = light.black + 1; code < light.top; code += 7)
        expect(light.codeOf(light.lights[code])).to.be.closeTo(code, 1e-6);
    });

  it('is 1 at white, none at black, and less than none below, in order', () => {
    const { lights, black } = new LightCode(LIMITED);
    expect([black, lights[235], lights[16]]).to.deep.equal([16, 1, 0]);
    for (let code = 1; code < lights.length; code++) expect(lights[code]).to.be.greaterThan(lights[code - 1]);
  });

  it('between two codes is a code between them', () => {
    const light = new LightCode(LIMITED);
    const between = (light.lights[100] + light.lights[101]) / 2;
    expect(light.codeOf(between)).to.be.closeTo(100.5, 1e-6);
  });

  it('of none, or of no number, is black; of more than can be stored, the largest code', () => {
    const light = new LightCode(LIMITED);
    expect([0, -1, NaN].map((l) => light.codeOf(l))).to.deep.equal([16, 16, 16]);
    expect(light.codeOf(9)).to.equal(255);
  });

  it('grows by the same share whatever the level, as a filter before the lens makes it', () => {
    // Two thirds of the light of white and of a middle grey: BT.709 by its formula, not by our table.
    const light = new LightCode(LIMITED);
    for (const code of [235, 120]) {
      const signal = (code - 16) / 219;
      const less = ((2 / 3) * ((signal + 0.099) / 1.099) ** (1 / 0.45)) ** 0.45 * 1.099 - 0.099;
      expect(light.codeOf((2 / 3) * light.lights[code])).to.be.closeTo(16 + 219 * less, 0.05);
    }
  });
});
