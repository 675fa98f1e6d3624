import { expect } from 'chai';
import { checkedSettings, runnerOf, Study, type Picture } from '@bevrin/core';
import { seeded } from '@bevrin/rig';
import { runsAtOnce, sharedRuns, type RunGround } from './run.js';

const [WIDTH, HEIGHT, FRAMES] = [96, 64, 7];
const runner = runnerOf('reduceNoise');
const settings = (framesEachSide: number, lumaStrengthPct = 6) =>
  checkedSettings(runner.settings, { framesEachSide, lumaStrengthPct, spatialStrengthPct: 20 });

const ground = (bytes = 0): RunGround => {
  const random = seeded(77);
  const pictures = Array.from({ length: FRAMES }, (): Picture => {
    const samples = Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) =>
      Math.max(0, Math.min(255, 120 + 60 * Math.sin(i / 9) + 12 * random())),
    );
    // A picture that says it is larger than it is.
    if (bytes > 0) Object.defineProperty(samples, 'byteLength', { value: bytes });
    return { planes: [{ width: WIDTH, height: HEIGHT, samples }] };
  });
  const clip = { width: WIDTH, height: HEIGHT, bitDepth: 8, range: 'limited', matrix: 'bt709' };
  const study = new Study({ clip: clip as never, firstFrame: 0, pictures });
  return { frames: { study, from: 2, to: 5 }, measurement: null as never } as unknown as RunGround;
};

describe('runs that share their work', () => {
  it('are treated together or a few at a time, and come out as each does alone', () => {
    const all = [1, 2, 3].map((n) => [{ runner, settings: settings(n) }]);
    const there = ground();
    const together = sharedRuns(all, there)!;
    const few = [sharedRuns(all.slice(0, 2), there)!, sharedRuns(all.slice(2), there)!];
    for (const i of [2, 3]) {
      const { pictures, seconds } = together.treat(i);
      const apart = few.flatMap((f) => f.treat(i).pictures);
      expect(pictures).to.have.length(3);
      expect(
        seconds.every((s) => s > 0),
        'each says what it takes alone',
      ).to.equal(true);
      for (const [k, [step]] of all.entries()) {
        const alone = runner.begin(there.frames.study, step.settings, null as never).treat(i);
        for (const made of [pictures[k], apart[k]])
          expect(made.planes.map((p) => p.samples)).to.deep.equal(alone.planes.map((p) => p.samples));
      }
    }
  });

  it('share nothing where they differ in more, or have steps before', () => {
    const [one, other] = [settings(1), settings(2, 9)].map((s) => ({ runner, settings: s }));
    expect(sharedRuns([[one], [other]], ground())).to.equal(null);
    expect(sharedRuns([[one, other]], ground())).to.equal(null);
    const sharpen = runnerOf('sharpen');
    const step = { runner: sharpen, settings: checkedSettings(sharpen.settings, {}) };
    expect(sharedRuns([[step], [step]], ground())).to.equal(null);
  });

  it('are as many at once as there is memory for, one at least', () => {
    expect(runsAtOnce(ground(3e6))).to.equal(57);
    expect(runsAtOnce(ground(60e6))).to.equal(2);
    expect(runsAtOnce(ground(900e6))).to.equal(1);
  });
});
