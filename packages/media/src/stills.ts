import { open, readFile } from 'node:fs/promises';
import { rationalToNumber } from '@bevrin/contract';
import { ClipUnreadable } from './errors.js';
import { mustHaveFinished, whyUnreadable } from './failures.js';
import { probeClip, type ProbedClip } from './probe.js';
import { openSource } from './source.js';
import { run } from './tools.js';

const POSTER_WIDTH = 480;
const PROXY_WIDTH = 1280;
/** A key frame this often lets a page jump to any frame quickly. */
const PROXY_KEY_FRAMES = 12;

/** Options that go to just before a frame; none where that cannot be done by time. */
export const atFrame = ({ source, facts }: ProbedClip, frame: number): string[] => {
  if (frame === 0 || source.stills !== null || facts.variableFrameRate) return [];
  // Half a frame early: rounding of time stamps must not skip the frame that is meant.
  return ['-ss', ((frame - 0.5) / rationalToNumber(facts.frameRate)).toFixed(6)];
};

/** A seek goes into the input's own options, before it is opened. */
export const seeking = (clip: ProbedClip, frame: number): string[] => {
  const { input } = clip.source;
  const open = input.lastIndexOf('-i');
  return [...input.slice(0, open), ...atFrame(clip, frame), ...input.slice(open)];
};

/** Left in the file, these tags would make a page correct the colours once more. */
const UNTAGGED = 'setparams=color_primaries=unknown:color_trc=unknown';

/** From the clip's own matrix and range to full-range R′G′B′, code for code. */
const toRgb = ({ facts, format }: Pick<ProbedClip, 'facts' | 'format'>): string => {
  const exact = 'flags=bicubic+accurate_rnd+full_chroma_int+full_chroma_inp';
  const rgb = facts.bitDepth > 8 ? 'rgb48be' : 'rgb24';
  if (format.rgb) return `scale=${exact},format=${rgb},${UNTAGGED}`;
  const range = facts.range === 'full' ? 'pc' : 'tv';
  return `scale=in_color_matrix=${facts.matrix}:in_range=${range}:out_range=pc:${exact},format=${rgb},${UNTAGGED}`;
};

/** Decodes one frame through a filter, and returns what the encoder made of it. */
const oneFrame = async (
  clip: ProbedClip,
  frame: number,
  filter: string,
  encoded: readonly string[],
  signal?: AbortSignal,
): Promise<Buffer> => {
  const sought = atFrame(clip, frame).length > 0;
  const pick = sought || frame === 0 ? '' : `select='eq(n,${frame})',`;
  const args = [
    '-nostdin',
    '-v',
    'error',
    ...seeking(clip, frame),
    '-map',
    `0:${clip.stream}`,
    '-vf',
    `${pick}${filter}`,
    '-fps_mode',
    'passthrough',
    '-frames:v',
    '1',
    ...encoded,
    'pipe:1',
  ];
  const { output, ...finished } = await run('ffmpeg', args, { signal, withinMs: clip.limits.decodeMs });
  const { stderr } = finished;
  mustHaveFinished(clip.source.path, finished, `at frame ${frame}`);
  if (output.length > 0) return output;
  if (stderr) throw new ClipUnreadable(clip.source.path, ...whyUnreadable(stderr));
  throw new ClipUnreadable(
    clip.source.path,
    `there is no frame ${frame}; the last one is ${clip.facts.frames - 1}.`,
    'Choose another frame.',
  );
};

/**
 * One frame as a lossless PNG at the clip's own size; 16 bits a channel where the clip has more than 8.
 * @param frame from 0
 * @throws {ClipUnreadable} when the clip has no such frame
 */
export const stillFrame = (clip: ProbedClip, frame: number, signal?: AbortSignal): Promise<Buffer> =>
  oneFrame(clip, frame, toRgb(clip), ['-c:v', 'png', '-compression_level', '1', '-f', 'image2pipe'], signal);

/**
 * A part of one frame, enlarged or reduced, as a JPEG for a report.
 * @param part in clip pixels
 * @param width of the JPEG
 */
export const partOfFrame = (clip: ProbedClip, frame: number, part: Part, width: number): Promise<Buffer> =>
  oneFrame(clip, frame, partFilter(clip, part, width), PART_JPEG);

const PART_JPEG = ['-q:v', '2', '-f', 'mjpeg'];

/** A part of a picture, clip pixels. */
interface Part {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

const partFilter = (clip: Pick<ProbedClip, 'facts' | 'format'>, part: Part, width: number): string => {
  const flags = width >= part.width ? 'neighbor' : 'area';
  return `${toRgb(clip)},crop=${part.width}:${part.height}:${part.x}:${part.y},scale=${width}:-2:flags=${flags},format=yuvj444p`;
};

/**
 * The same of a frame that is at hand.
 * @param bytes its planes one after the other, at the clip's size and depth
 */
export const partOfPlanes = async (
  { source, facts, format, limits }: ProbedClip,
  bytes: Uint8Array,
  part: Part,
  width: number,
): Promise<Buffer> => {
  const raw = ['-f', 'rawvideo', '-pix_fmt', format.planar, '-s', `${facts.width}x${facts.height}`];
  const args = [
    ...['-v', 'error', ...raw, '-i', 'pipe:0', '-vf', partFilter({ facts, format }, part, width)],
    ...['-frames:v', '1', ...PART_JPEG, 'pipe:1'],
  ];
  const { output, ...finished } = await run('ffmpeg', args, { input: bytes, withinMs: limits.decodeMs });
  mustHaveFinished(source.path, finished);
  return output;
};

/** A small JPEG of a frame a third into the clip, for lists. */
export const writePoster = async (clip: ProbedClip, path: string): Promise<void> => {
  const frame = Math.floor(clip.facts.frames / 3);
  const { pixelAspect } = clip.facts;
  const size = `scale='min(${POSTER_WIDTH},iw*${pixelAspect})':-2:flags=area`;
  const pick = atFrame(clip, frame).length > 0 || frame === 0 ? '' : `select='gte(n,${frame})',`;
  const args = [
    '-nostdin',
    '-v',
    'error',
    '-y',
    ...seeking(clip, frame),
    '-map',
    `0:${clip.stream}`,
    '-vf',
    `${pick}${toRgb(clip)},${size},format=yuvj420p`,
    '-frames:v',
    '1',
    '-q:v',
    '3',
    '-f',
    'mjpeg',
    `file:${path}`,
  ];
  mustHaveFinished(clip.source.path, await run('ffmpeg', args, { withinMs: clip.limits.decodeMs }));
};

/** A small H.264 file for playing; frame n of the clip stands at n over the frame rate, whatever its own times are. */
export const writeProxy = async (clip: ProbedClip, path: string, signal?: AbortSignal): Promise<void> => {
  const { frameRate, pixelAspect } = clip.facts;
  const [numerator, denominator] = frameRate.split('/');
  const size = `scale='trunc(min(${PROXY_WIDTH},iw*${pixelAspect})/2)*2':-2:flags=bilinear`;
  const filter = `setpts=N*${denominator}/(${numerator}*TB),${size},format=yuv420p`;
  const coding = [
    '-c:v',
    'libx264',
    '-preset',
    'veryfast',
    '-crf',
    '21',
    '-g',
    String(PROXY_KEY_FRAMES),
    '-bf',
    '0',
    '-movflags',
    '+faststart',
    '-video_track_timescale',
    String(Number(numerator) * 4),
  ];
  const args = [
    '-nostdin',
    '-v',
    'error',
    '-y',
    ...clip.source.input,
    '-map',
    `0:${clip.stream}`,
    '-an',
    '-vf',
    filter,
    '-fps_mode',
    'passthrough',
    ...coding,
    '-f',
    'mp4',
    `file:${path}`,
  ];
  const finished = await run('ffmpeg', args, { signal, withinMs: clip.limits.decodeMs });
  mustHaveFinished(clip.source.path, finished, 'while it wrote the playing copy');
};

/**
 * @throws {Error} when the file of a picture is empty or was not written to its end
 */
export const mustBeWholeJpeg = async (path: string): Promise<void> => {
  const bytes = await readFile(path);
  // Start and end of image (ITU-T T.81, table B.1).
  const whole =
    bytes.length > 4 && bytes.readUInt16BE(0) === 0xffd8 && bytes.readUInt16BE(bytes.length - 2) === 0xffd9;
  if (!whole) throw new Error(`${path}: the picture was not written to its end.`);
};

/**
 * Whether the boxes of an MP4 file (ISO/IEC 14496-12) fill it to its last byte: the index stands in front, and opens as
 * well when what it points at was cut off.
 */
const isWholeMp4 = async (path: string): Promise<boolean> => {
  const file = await open(path);
  try {
    const { size } = await file.stat();
    const head = Buffer.alloc(16);
    let at = 0;
    while (at < size) {
      const { bytesRead } = await file.read(head, 0, 16, at);
      if (bytesRead < 8) return false;
      const short = head.readUInt32BE(0);
      // 1 says that the size follows in 64 bits; 0, to the end of the file, is not written by us.
      const length = short === 1 && bytesRead === 16 ? Number(head.readBigUInt64BE(8)) : short;
      if (length < 8) return false;
      at += length;
    }
    return size > 0 && at === size;
  } finally {
    await file.close();
  }
};

/**
 * @param path a playing copy of the clip, made by {@link writeProxy}
 * @throws {Error} when it was not written to its end
 * @throws {ClipUnreadable} when it cannot be opened, or holds fewer frames than the clip states
 */
export const mustBeWholeProxy = async (clip: ProbedClip, path: string): Promise<void> => {
  if (!(await isWholeMp4(path))) throw new Error(`${path}: the playing copy was not written to its end.`);
  const { facts } = await probeClip(await openSource(path), clip.limits);
  if (clip.frameSlack !== null && facts.frames < clip.facts.frames - clip.frameSlack)
    throw new ClipUnreadable(
      clip.source.path,
      `only ${facts.frames} of its ${clip.facts.frames} frames can be decoded: it was cut short or is damaged.`,
      'Copy it again, or ask the sender for it.',
    );
};

const STRIP_HEIGHT = 54;

/**
 * Pictures of a clip at even steps of time, side by side in one JPEG.
 * @param proxy a playing copy made by {@link writeProxy}
 * @param count how many
 */
export const writeStrip = async (
  clip: ProbedClip,
  proxy: string,
  count: number,
  path: string,
): Promise<void> => {
  const { frames } = clip.facts;
  const every = Math.max(1, frames / count);
  const pick = `select='gte(floor((n+0.5)/${every}),floor((n-0.5)/${every})+1)+eq(n,0)'`;
  const args = [
    '-nostdin',
    '-v',
    'error',
    '-y',
    '-i',
    `file:${proxy}`,
    '-an',
    '-vf',
    `${pick},scale=-2:${STRIP_HEIGHT}:flags=area,tile=${Math.min(count, frames)}x1,format=yuvj420p`,
    '-frames:v',
    '1',
    '-q:v',
    '4',
    '-f',
    'mjpeg',
    `file:${path}`,
  ];
  mustHaveFinished(clip.source.path, await run('ffmpeg', args, { withinMs: clip.limits.decodeMs }));
};
