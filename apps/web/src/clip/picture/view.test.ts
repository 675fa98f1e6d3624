import { expect } from 'chai';
import { panned, scaledAbout, seenPart, toPicture, toStage, viewOf, wheeled, wholeView } from './view.js';

const HD = { width: 1920, height: 1080 };
const STAGE = { width: 800, height: 500 };

describe('the view of a picture', () => {
  it('shows the whole of it first, as large as it goes in', () => {
    const view = wholeView(HD, STAGE);
    expect(view.scale).to.be.closeTo(800 / 1920, 1e-9);
    expect(seenPart(view, HD, STAGE)).to.deep.equal({ x: 0, y: 0, ...HD });
  });

  it('keeps what is under the pointer there while it grows, from the whole to eight times', () => {
    let view = scaledAbout(wholeView(HD, STAGE), HD, STAGE, 1, 300, 200);
    const before = toPicture(view, STAGE, 300, 200);
    for (let i = 0; i < 12; i++) view = scaledAbout(view, HD, STAGE, wheeled(view.scale, -100), 300, 200);
    expect(view.scale).to.equal(8);
    const after = toPicture(view, STAGE, 300, 200);
    expect(after[0]).to.be.closeTo(before[0], 1e-6);
    expect(after[1]).to.be.closeTo(before[1], 1e-6);
  });

  it('never leaves the picture behind when it is moved', () => {
    const view = viewOf(HD, STAGE, 960, 540, 4);
    const far = panned(view, HD, STAGE, 1e6, 1e6);
    expect(toStage(far, STAGE, 0, 0)).to.deep.equal([0, 0]);
    const farther = panned(view, HD, STAGE, -1e6, -1e6);
    expect(toStage(farther, STAGE, 1920, 1080)).to.deep.equal([800, 500]);
  });

  it('centres a picture that is smaller than the stage, and never makes it smaller than it must', () => {
    const small = { width: 320, height: 180 };
    const view = scaledAbout(wholeView(small, STAGE), small, STAGE, 0.1);
    expect(view).to.deep.equal({ scale: 1, x: 160, y: 90 });
    expect(seenPart(view, small, STAGE)).to.deep.equal({ x: 0, y: 0, ...small });
  });

  it('goes to a place at its scale', () => {
    const view = viewOf(HD, STAGE, 1700, 900, 6);
    expect(toStage(view, STAGE, 1700, 900)).to.deep.equal([400, 250]);
  });
});
