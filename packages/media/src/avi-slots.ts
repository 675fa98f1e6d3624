import { mustHaveFinished } from './failures.js';
import type { DecodeLimits } from './limits.js';
import type { Source } from './source.js';
import { run } from './tools.js';

/**
 * How many frames an AVI really stores. It gives each frame a slot of the same length, and leaves that of a frame empty which a
 * capture dropped or which only shows the one before again. Reads the file once, without decoding.
 * @param stream index of the picture in the file
 * @param slots that its header states
 * @param slack slots that may be missing at its end
 * @returns `null` where its last slots are not there: then it was cut short, or nothing is known
 * @throws {ClipUnreadable} {@link DecoderStopped}
 */
export const framesInSlots = async (
  source: Source,
  stream: number,
  slots: number,
  slack: number,
  limits: DecodeLimits,
): Promise<number | null> => {
  const read = await run(
    'ffprobe',
    [
      '-v',
      'error',
      '-select_streams',
      String(stream),
      '-show_entries',
      'packet=dts',
      '-of',
      'csv=p=0',
      ...source.input,
    ],
    { withinMs: limits.decodeMs },
  );
  mustHaveFinished(source.path, read, 'while it read what is stored');
  const taken = read.output
    .toString('utf8')
    .split('\n')
    .map((line) => parseInt(line, 10))
    .filter((slot) => !Number.isNaN(slot));
  const last = taken.reduce((latest, slot) => Math.max(latest, slot), -1);
  return last + 1 < slots - slack ? null : taken.length;
};
