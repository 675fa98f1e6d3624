import type { Picture, Plane } from '@bevrin/core';
import { layoutOf, FrameRun } from '../frame-run.js';
import type { ProbedClip } from '../probe.js';

/**
 * Full-size frames of a clip, one after the other, as they are stored.
 * @returns fewer than `count` where the clip ends before
 * @throws {ClipUnreadable} {@link DecoderStopped} {@link ToolMissing}
 */
export const readPictures = async (
  clip: ProbedClip,
  first: number,
  count: number,
  signal?: AbortSignal,
): Promise<Picture[]> => {
  const run = new FrameRun(clip, first);
  try {
    const pictures: Picture[] = [];
    while (pictures.length < count) {
      signal?.throwIfAborted();
      const bytes = await run.read();
      if (!bytes) break;
      pictures.push({ planes: planesIn(bytes, clip) });
    }
    return pictures;
  } finally {
    run.stop();
  }
};

const planesIn = (bytes: Buffer, clip: ProbedClip): Plane[] => {
  const { bytesPerSample, planes } = layoutOf(clip);
  // A copy: a buffer of its own begins where samples of 16 bits may begin.
  const own = new Uint8Array(bytes).buffer;
  let offset = 0;
  return planes.map(({ width, height }) => {
    const count = width * height;
    const samples =
      bytesPerSample === 1 ? new Uint8Array(own, offset, count) : new Uint16Array(own, offset, count);
    offset += count * bytesPerSample;
    return { width, height, samples };
  });
};

/** The bytes of a frame, plane after plane, as an encoder takes them. */
export const bytesOf = ({ planes }: Picture): Uint8Array => {
  const parts = planes.map(
    ({ samples }) => new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength),
  );
  const all = new Uint8Array(parts.reduce((sum, p) => sum + p.length, 0));
  let offset = 0;
  for (const part of parts) {
    all.set(part, offset);
    offset += part.length;
  }
  return all;
};

/** Memory of frames, which goes with them to another thread. */
export const memoryOf = (pictures: Iterable<Picture>): ArrayBuffer[] => [
  ...new Set(
    [...pictures].flatMap(({ planes }) => planes.map((plane) => plane.samples.buffer as ArrayBuffer)),
  ),
];
