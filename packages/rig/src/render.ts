import { rationalToNumber } from '@bevrin/contract';
import { Exposer } from './camera/expose.js';
import { throughDirt } from './camera/dirt.js';
import { MOST_TAPS, throughLens } from './camera/lens.js';
import { roomsFor } from './camera/loops.js';
import { throughMosaic } from './camera/mosaic.js';
import { NoiseTruth, Packer, packerRooms } from './camera/format.js';
import { sharpen } from './camera/sharpen.js';
import { Develop, sensorRooms } from './camera/sensor.js';
import type { Pose } from './camera/path.js';
import type { ClipRecipe, ShotRecipe } from './recipe.js';

/** What a render put in, beyond what its recipe says. */
export interface RenderTruth {
  readonly noisePct: ReturnType<NoiseTruth['sigmaPct']>;
  /** Where the camera stood while the middle row of each frame was exposed. */
  readonly poses: readonly Pose[];
}

/**
 * Draws a clip frame by frame as raw planar video.
 * @yields the bytes of one frame; the array is overwritten by the next one
 * @returns the noise that was really stored
 */
export function* renderFrames(recipe: ClipRecipe): Generator<Uint8Array, RenderTruth> {
  const { width, height } = recipe;
  const frameRate = rationalToNumber(recipe.frameRate);
  const picture = width * height * 3;
  const sensorSizes = sensorRooms(width, height);
  const { memory, rooms } = roomsFor([
    picture,
    picture,
    picture,
    picture,
    MOST_TAPS,
    ...sensorSizes,
    ...packerRooms(width, height, recipe.format),
  ]);
  const [light, across, clean, noisy, taps, ...others] = rooms;
  const develop = new Develop(memory, others, width, height, recipe.sensor, recipe.seed);
  const packer = new Packer(memory, others.slice(sensorSizes.length), width, height, recipe.format);
  const truth = new NoiseTruth();
  const shown = framesShown(recipe);
  const expose = exposing(recipe, shown);
  for (let frame = 0; frame < recipe.frames; frame++) {
    const { lensSigmaPx, spots = [], specks = [], repeatEvery, sharpened, signalBits, barRows = 0 } = recipe;
    if (repeatEvery && frame % repeatEvery === repeatEvery - 1) {
      yield packer.bytes;
      continue;
    }
    expose(frame, light.floats, across.floats);
    if (recipe.mosaic) throughMosaic(memory, light, across, width, height);
    const sigmaPx = typeof lensSigmaPx === 'number' ? lensSigmaPx : lensSigmaPx(frame);
    throughLens(memory, light, across, taps, width, height, sigmaPx, recipe.lensShape);
    throughDirt(light.floats, width, height, frame, spots, specks);
    develop.frame(light, frame, clean, noisy);
    if (sharpened)
      for (const signal of [clean, noisy])
        sharpen(memory, signal, light, across, taps, width, height, sharpened);
    if (signalBits) coarsen(noisy.floats, signalBits);
    if (barRows > 0)
      for (const { floats: signal } of [clean, noisy]) {
        signal.fill(0, 0, 3 * width * barRows);
        signal.fill(0, 3 * width * (height - barRows));
      }
    yield packer.pack(noisy, clean, truth);
  }
  const poses = Array.from({ length: recipe.frames }, (_, frame) => {
    const shot = shotAt(recipe, frame);
    return shot.camera((shown[frame] + recipe.readout / 2 + recipe.shutter / 2) / frameRate);
  });
  return { noisePct: truth.sigmaPct(), poses };
}

/**
 * Exposes the light of a frame: of its shot, and of the one before where that dissolves into it.
 * @param shown which instant each frame shows
 */
const exposing = (
  recipe: ClipRecipe,
  shown: readonly number[],
): ((frame: number, light: Float32Array, across: Float32Array) => void) => {
  const frameRate = rationalToNumber(recipe.frameRate);
  const exposers = new Map<ShotRecipe, Exposer>();
  const exposerFor = (shot: ShotRecipe): Exposer => {
    const held = exposers.get(shot);
    if (held?.holds) return held;
    const made = new Exposer(shot.scene, { ...recipe, frameRate, camera: shot.camera });
    exposers.set(shot, made);
    return made;
  };
  return (frame, light, across) => {
    const shot = shotAt(recipe, frame);
    exposerFor(shot).frame(shown[frame], light);
    const alone = shareOf(shot, frame);
    if (alone === 1) return;
    exposerFor(shotAt(recipe, shot.startFrame - 1)).frame(shown[frame], across);
    for (let i = 0; i < 3 * recipe.width * recipe.height; i++)
      light[i] = alone * light[i] + (1 - alone) * across[i];
  };
};

const shotAt = ({ shots }: ClipRecipe, frame: number): ShotRecipe =>
  shots.findLast((s) => s.startFrame <= frame) ?? shots[0];

/** How much of the light of a frame is that of its own shot; the rest is that of the shot before, which dissolves into it. */
const shareOf = ({ startFrame, dissolve = 0 }: ShotRecipe, frame: number): number =>
  Math.min(1, (frame - startFrame + 1) / (dissolve + 1));

/** Which instant each frame shows, in frame intervals: one is left out before each frame of `dropBefore`. */
const framesShown = ({ frames, dropBefore = [] }: ClipRecipe): number[] => {
  let lost = 0;
  return Array.from({ length: frames }, (_, frame) => {
    if (dropBefore.includes(frame)) lost++;
    return frame + lost;
  });
};

/** Rounds the signal to so many bits, without dither. */
const coarsen = (signal: Float32Array, bits: number): void => {
  const top = 2 ** bits - 1;
  for (let i = 0; i < signal.length; i++) signal[i] = Math.round(signal[i] * top) / top;
};
