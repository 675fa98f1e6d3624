import { ClipUnreadable, DecoderStopped, DiskFull } from './errors.js';
import type { Finished } from './tools.js';

/** ffmpeg that is told to stop ends with this status. */
const ENDED_BY_SIGNAL = 255;

/** Whether a tool was ended from outside: then it says nothing about the file. */
export const wasStopped = ({ code, signal }: Finished): boolean =>
  signal !== null || code === null || code === ENDED_BY_SIGNAL;

/**
 * Throws what the end of a tool means for the file that it worked on, unless it ended well.
 * @param at how far it had come, such as `at frame 135 of 500`
 * @throws {DecoderStopped} {@link DiskFull} {@link ClipUnreadable}
 */
export const mustHaveFinished = (path: string, finished: Finished, at = ''): void => {
  if (finished.code === 0) return;
  if (NO_SPACE.test(finished.stderr)) throw new DiskFull();
  if (wasStopped(finished)) throw new DecoderStopped(path, at, finished.signal);
  throw new ClipUnreadable(path, ...whyUnreadable(finished.stderr));
};

const NO_SPACE = /No space left on device/i;
export const NO_INDEX = /moov atom not found/i;
export const NO_MEDIA: [what: string, next: string] = [
  'this is not a media file that can be decoded.',
  'Check that it is the right file, and ask the sender for it again.',
];

/** What a decoder's message means to a person, and what to do next. */
export const whyUnreadable = (stderr: string): [what: string, next: string] => {
  if (NO_INDEX.test(stderr))
    return [
      'the index of the file is missing: it was cut short, or is still being copied.',
      'Copy it again, or ask the sender for it.',
    ];
  if (/end of file|partial file|truncat/i.test(stderr))
    return ['the file ends too early: it was cut short.', 'Copy it again, or ask the sender for it.'];
  if (/not on whitelist|Invalid data found/i.test(stderr)) return NO_MEDIA;
  if (/Permission denied/i.test(stderr))
    return ['the file may not be read by this user.', 'Change its permissions.'];
  return ['the file cannot be decoded.', 'Ask the sender for it again, or for another codec.'];
};
