import { checkedSettings, runnerOf, Study, type Picture } from '@bevrin/core';
import { seeded } from '@bevrin/rig';
import type { RunGround } from '../../packages/media/src/trial/run.js';

const [WIDTH, HEIGHT, FRAMES] = [96, 64, 7];
/** What is tried on it. */
export const runner = runnerOf('reduceNoise');
export const settings = (framesEachSide: number, lumaStrengthPct = 6) =>
  checkedSettings(runner.settings, { framesEachSide, lumaStrengthPct, spatialStrengthPct: 20 });

/**
 * Seven noisy frames, the third to the fifth of which are treated.
 * @param bytes that each of its pictures says it takes; as many as it does where it is 0
 */
export const trialGround = ({ seed = 77, bytes = 0 } = {}): RunGround => {
  const random = seeded(seed);
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
