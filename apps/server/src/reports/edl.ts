import { rationalToNumber, type Report } from '@bevrin/contract';
import { marksOf } from './marks.js';
import type { MarkedClip } from './timeline.js';

const START_HOUR = 1;
const LONGEST_LINE = 200;

/** Frames as hours, minutes, seconds and frames, without dropping any: the rate is rounded up to whole frames. */
export const timecode = (frame: number, rate: number): string => {
  const whole = Math.round(rate);
  const two = (v: number): string => String(v).padStart(2, '0');
  const seconds = Math.floor(frame / whole);
  return `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}:${two(frame % whole)}`;
};

/** ASCII, one line, not too long: old readers of the format know no more. */
const plain = (text: string): string =>
  text
    .normalize('NFKD')
    .replaceAll('×', 'x')
    .replaceAll('°', ' deg')
    .replaceAll(/\p{M}/gu, '')
    .replaceAll(/[^\x20-\x7e]/g, '?')
    .slice(0, LONGEST_LINE);

/**
 * An edit decision list in the CMX 3600 form, an event for each clip, with a comment line for every finding. Record
 * times run on at the rate of the first clip; source times are at each clip's own.
 */
export const edlOf = ({ batch, clips }: Report): string =>
  edlWith(
    batch,
    clips.map((of) => ({ ...of.clip, marks: marksOf(of) })),
  );

/** The same of any files with their marks. */
export const edlWith = (
  title: string,
  clips: readonly (Pick<MarkedClip, 'file' | 'frames' | 'frameRate' | 'marks'> & { durationSec: number })[],
): string => {
  const lines = [`TITLE: ${plain(title)}`, 'FCM: NON-DROP FRAME', ''];
  const recordRate = clips.length > 0 ? rationalToNumber(clips[0].frameRate) : 25;
  let record = START_HOUR * 3600 * Math.round(recordRate);
  clips.forEach((clip, i) => {
    const rate = rationalToNumber(clip.frameRate);
    const length = Math.max(1, Math.round(clip.durationSec * recordRate));
    const times = [timecode(0, rate), timecode(clip.frames, rate)];
    const at = [timecode(record, recordRate), timecode(record + length, recordRate)];
    lines.push(`${String(i + 1).padStart(3, '0')}  AX       V     C        ${[...times, ...at].join(' ')}`);
    lines.push(`* FROM CLIP NAME: ${plain(clip.file)}`);
    for (const mark of clip.marks)
      lines.push(
        `* ${timecode(mark.startFrame, rate)} TO ${timecode(mark.endFrame, rate)} ${plain(`${mark.name}. ${mark.text}`)}`,
      );
    lines.push('');
    record += length;
  });
  return lines.join('\r\n');
};
