import { expect } from 'chai';
import { cameraStep } from '../../../../../tests/support/camera-step.js';
import type { CameraStep } from '../../motion/motion-analysis.js';
import { aliasIn, type PatternSample } from './alias.js';

const PAIRS = 10;
const ROWS = 360;
/** A camera held by hand, clip pixels a frame. */
const moves = Array.from({ length: PAIRS }, (_, k) => ({
  dx: 1.9 * Math.sin(1.7 * k + 0.4),
  dy: 1.4 * Math.cos(2.3 * k),
}));
const step = ({ dx, dy }: { dx: number; dy: number }, lean = 0): CameraStep => ({
  ...cameraStep(dx, dy),
  bands: Float32Array.from({ length: 20 }, (_, i) =>
    i % 2 === 0 ? dx * (1 + lean * (Math.floor(i / 2) / 9 - 0.5)) : dy,
  ),
  known: new Float32Array(20).fill(1),
});

/** A pattern that turns as one of the frequency `real` does which the camera carries along. */
const seen = (seenAs: number, real: number, by = moves): PatternSample[] =>
  by.map(({ dx }, frame) => {
    const turned = -2 * Math.PI * real * dx;
    return {
      frame,
      x: 0,
      y: 280,
      side: 64,
      fx: seenAs,
      fy: 0,
      amplitude: 4,
      turned: Math.atan2(Math.sin(turned), Math.cos(turned)),
      lumaless: false,
    };
  });
const judged = (samples: readonly PatternSample[], steps = moves.map((m) => step(m))) =>
  aliasIn(samples, steps, 'luma', 1, ROWS);

describe('a pattern that the sampling made', () => {
  it('is told by how it turns: threads of 0.94 cycles a pixel that look like 0.06', () => {
    const alias = judged(seen(0.06, 0.06 - 1));
    expect(alias).to.include({ amplitude: 4 });
    expect(alias).to.have.property('periodPx').that.is.closeTo(16.7, 0.1);
  });

  it('is none where it moves with the scene, or was hardly ever seen', () => {
    expect(judged(seen(0.06, 0.06))).to.equal('scene');
    expect(judged(seen(0.06, 0.06 - 1).slice(0, 2))).to.equal('scene');
  });

  it('is not decided where the camera stands still', () => {
    const still = moves.map(() => ({ dx: 0, dy: 0 }));
    expect(
      judged(
        seen(0.06, 0.06, still),
        still.map((m) => step(m)),
      ),
    ).to.equal('undecided');
  });

  it('is none where it moves as its own rows do, which read-out skews', () => {
    const lean = 1.6;
    const own = moves.map(({ dx, dy }) => ({ dx: dx * (1 + lean * (8 / 9 - 0.5)), dy }));
    const skewed = seen(0.2, 0.2, own);
    expect(
      judged(
        skewed,
        moves.map((m) => step(m, lean)),
      ),
    ).to.equal('scene');
  });

  it('is none in wide colour without luma that goes slowly with the scene: no alias would; one that does is told', () => {
    // A hand's breadth of a tenth of a wave: too little for the wave itself to tell, plenty for what lies behind an alias.
    const slow = moves.map(({ dx, dy }) => ({ dx: dx / 2, dy: dy / 2 }));
    const colour = (real: number) =>
      aliasIn(
        seen(0.035, real, slow).map((p) => ({ ...p, lumaless: true })),
        slow.map((m) => step(m)),
        'colour',
        1,
        ROWS,
      );
    expect(colour(0.035)).to.equal('scene');
    expect(colour(0.035 - 0.5))
      .to.have.property('periodPx')
      .that.is.closeTo(28.6, 0.1);
  });
});
