import { expect } from 'chai';
import { chromaScale, lightOfSmallCodes, lumaScale, smallScale, toLinearLight } from './signal.js';

describe('signal scale', () => {
  it('places black and white of limited and full range at any depth', () => {
    expect(lumaScale({ bitDepth: 8, range: 'limited' })).to.deep.equal({ black: 16, span: 219, top: 255 });
    expect(lumaScale({ bitDepth: 10, range: 'limited' })).to.deep.equal({ black: 64, span: 876, top: 1023 });
    expect(lumaScale({ bitDepth: 12, range: 'full' })).to.deep.equal({ black: 0, span: 4095, top: 4095 });
    expect(chromaScale({ bitDepth: 10, range: 'limited' })).to.deep.equal({
      black: 512,
      span: 896,
      top: 1023,
    });
  });

  it('shifts the small view up to 16 bits', () => {
    expect(smallScale({ bitDepth: 8, range: 'limited' })).to.include({ black: 4096, span: 56064 });
    expect(smallScale({ bitDepth: 10, range: 'limited' })).to.include({ black: 4096, span: 56064 });
  });

  it('undoes each transfer to nominal white at full signal', () => {
    for (const transfer of ['bt709', 'srgb', 'linear', 'pq', 'hlg'] as const) {
      expect(toLinearLight(0, transfer), transfer).to.be.closeTo(0, 1e-6);
      expect(toLinearLight(1, transfer), transfer).to.be.closeTo(1, 1e-3);
    }
    expect(toLinearLight(0.409, 'bt709')).to.be.closeTo(0.18, 0.002);
  });

  it('knows the light of each code of the small view, whatever clip came before', () => {
    for (const [bitDepth, range, transfer] of [
      [8, 'limited', 'bt709'],
      [8, 'full', 'bt709'],
      [10, 'full', 'hlg'],
      [8, 'limited', 'srgb'],
      [8, 'limited', 'bt709'],
    ] as const) {
      const facts = { bitDepth, range, transfer };
      const { black, span } = smallScale(facts);
      const light = lightOfSmallCodes(facts);
      expect(light).to.have.length(65536);
      for (const code of [0, 4096, 11_111, 30_000, 60_160, 65_535])
        expect(light[code], `${transfer} ${code}`).to.equal(toLinearLight((code - black) / span, transfer));
    }
  });
});
