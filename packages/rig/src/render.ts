import { rationalToNumber } from '@bevrin/contract';
import { expose } from './camera/expose.js';
import { throughLens } from './camera/lens.js';
import { NoiseTruth, Packer } from './camera/format.js';
import { Develop } from './camera/sensor.js';
import type { ClipRecipe } from './recipe.js';

/** What a render put in, beyond what its recipe says. */
export interface RenderTruth {
  readonly noisePct: ReturnType<NoiseTruth['sigmaPct']>;
}

/**
 * Draws a clip frame by frame as raw planar video.
 * @yields the bytes of one frame; the array is overwritten by the next one
 * @returns the noise that was really stored
 */
export function* renderFrames(recipe: ClipRecipe): Generator<Uint8Array, RenderTruth> {
  const { width, height } = recipe;
  const frameRate = rationalToNumber(recipe.frameRate);
  const light = new Float32Array(width * height * 3);
  const clean = new Float32Array(light.length);
  const noisy = new Float32Array(light.length);
  const develop = new Develop(width, height, recipe.sensor, recipe.seed);
  const packer = new Packer(width, height, recipe.format);
  const truth = new NoiseTruth();
  for (let frame = 0; frame < recipe.frames; frame++) {
    const shot = recipe.shots.findLast((s) => s.startFrame <= frame) ?? recipe.shots[0];
    expose(shot.scene, { ...recipe, frameRate, camera: shot.camera }, frame, light);
    throughLens(light, width, height, recipe.lensSigmaPx);
    develop.frame(light, frame, clean, noisy);
    yield packer.pack(noisy, clean, truth);
  }
  return { noisePct: truth.sigmaPct() };
}
