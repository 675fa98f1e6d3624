import type { Picture } from '@bevrin/core';
import { openSource, probeClip, readPictures } from '@bevrin/media';
import { renderStudy, type StudyClip } from '@bevrin/rig';
import type { Place } from './places.js';

/** What a fault must change in the file to be in it, % of the code range: less is below what the eye makes out in detail. */
const SHOWS_PCT = 2.5;
/** A codec leaves a fault's strongest trace this near to its place, samples. */
const ABOUT = 1;

/**
 * The faults that the stored file shows: drawn once with them and once without, their places differ by this much on
 * average over the frames. What lies in the dark without giving light, or went with a codec, is not in the file.
 */
export const shownFaults = async <P extends Place>(clip: StudyClip, faults: readonly P[]): Promise<P[]> => {
  const [with_, without] = [await framesOf(clip), await framesOf({ ...clip, faults: [] })];
  const top = 2 ** (clip.format?.bitDepth ?? 8) - 1;
  return faults.filter((fault) =>
    with_[0].planes.some((plane, p) => {
      const k = with_[0].planes[0].width / plane.width;
      const [x, y] = [Math.floor(fault.x / k), Math.floor(fault.y / k)];
      let most = 0;
      for (let v = y - ABOUT; v <= y + ABOUT; v++)
        for (let u = x - ABOUT; u <= x + ABOUT; u++) {
          if (u < 0 || v < 0 || u >= plane.width || v >= plane.height) continue;
          const i = v * plane.width + u;
          const changes = with_.map(
            ({ planes }, f) => planes[p].samples[i] - without[f].planes[p].samples[i],
          );
          most = Math.max(most, Math.abs(changes.reduce((a, b) => a + b, 0) / changes.length));
        }
      return most >= (SHOWS_PCT / 100) * top;
    }),
  );
};

const framesOf = async (clip: StudyClip): Promise<Picture[]> => {
  const probed = await probeClip(await openSource((await renderStudy(clip)).path));
  return readPictures(probed, 0, clip.frames);
};
