import type { KernelMemory } from '@bevrin/core';
import type { Loops, Room } from './loops.js';

/**
 * A sensor whose photosites see one colour each (red green / green blue, Bayer 1976), and the two others made up as
 * the mean of their neighbours: where the lens draws finer than that, false colour comes out.
 * @param light interleaved RGB, `width × height × 3`; changed in place
 * @param room for as much
 */
export const throughMosaic = (
  { run }: KernelMemory<Loops>,
  light: Room,
  room: Room,
  width: number,
  height: number,
): void => {
  run.throughMosaic(light.at, room.at, width, height);
  light.floats.set(room.floats);
};
