import { open } from 'node:fs/promises';
import { z } from 'zod';
import { rationalToNumber, type ClipFacts } from '@bevrin/contract';
import { ClipUnreadable } from './errors.js';
import { mustHaveFinished, NO_INDEX, NO_MEDIA, wasStopped, whyUnreadable } from './failures.js';
import { houseLimits, type DecodeLimits } from './limits.js';
import { askingForFormats, pixelFormat, type PixelFormat } from './pixel-formats.js';
import { ASSUMED_STILLS_RATE, type Source } from './source.js';
import { oncePerFile } from './same-file.js';
import { framesInSlots } from './avi-slots.js';
import { run } from './tools.js';

/** A source whose facts are known and which can be decoded. */
export interface ProbedClip {
  readonly source: Source;
  readonly facts: ClipFacts;
  /** Format of the full-size frames. */
  readonly format: PixelFormat;
  /** Which stream of the file the picture is. */
  readonly stream: number;
  /**
   * How many frames the container's own count may be off; `null` when it states none that could be relied on. A clip
   * that decodes to fewer was cut short.
   */
  readonly frameSlack: number | null;
  readonly limits: DecodeLimits;
}

const Stream = z.object({
  index: z.number(),
  codec_type: z.string().optional(),
  codec_name: z.string().optional(),
  width: z.number().default(0),
  height: z.number().default(0),
  pix_fmt: z.string().optional(),
  sample_aspect_ratio: z.string().optional(),
  r_frame_rate: z.string().default('0/0'),
  avg_frame_rate: z.string().default('0/0'),
  field_order: z.string().optional(),
  color_range: z.string().optional(),
  color_space: z.string().optional(),
  color_transfer: z.string().optional(),
  nb_frames: z.string().optional(),
  duration: z.string().optional(),
  tags: z.record(z.string(), z.string()).default({}),
  disposition: z.object({ attached_pic: z.number().default(0) }).default({ attached_pic: 0 }),
  side_data_list: z.array(z.object({ rotation: z.number().optional() }).loose()).default([]),
});
type Stream = z.infer<typeof Stream>;
const Probe = z.object({
  streams: z.array(Stream).default([]),
  format: z.object({ format_name: z.string(), duration: z.string().optional() }),
});

/** The average rate and the base rate of a steady stream differ by less than this share. */
const STEADY_RATE = 0.002;

/**
 * Reads the facts of a clip without decoding it; of a file that nobody has written to since, not again.
 * @param limits of one clip: what is larger is refused before anything is decoded
 * @throws {ClipUnreadable} when it is no media, holds no picture, or holds one that cannot or may not be decoded;
 * {@link DecoderStopped}
 */
export const probeClip = async (
  source: Source,
  limits: DecodeLimits = houseLimits(),
): Promise<ProbedClip> => ({ ...(await headerOf(source, limits)), source });

const headerOf = oncePerFile(async (source: Source, limits: DecodeLimits): Promise<ProbedClip> => {
  const found = await run('ffprobe', [
    '-v',
    'error',
    '-max_pixels',
    String(limits.pixels),
    '-show_streams',
    '-show_format',
    ...askingForFormats(),
    '-of',
    'json',
    ...source.input,
  ]);
  if (found.code !== 0 && !wasStopped(found))
    throw new ClipUnreadable(source.path, ...(await whyNotProbed(source, found.stderr)));
  mustHaveFinished(source.path, found, 'while it read the header');
  const refused = TOO_MANY_PIXELS.exec(found.stderr);
  if (refused) throw tooLarge(source, Number(refused[1]), Number(refused[2]), limits);
  const printed: unknown = JSON.parse(found.output.toString('utf8'));
  const probe = Probe.parse(printed);
  const pictures = probe.streams.filter((s) => s.codec_type === 'video' && s.disposition.attached_pic === 0);
  const stream = pictures.find((s) => s.width > 0 && s.height > 0) ?? pictures[0];
  if (!stream) {
    const sound = probe.streams.some((s) => s.codec_type === 'audio');
    throw new ClipUnreadable(
      source.path,
      sound ? 'the file holds sound but no picture.' : 'the file holds no picture.',
      'Ask the sender for the picture file.',
    );
  }
  if (stream.width * stream.height > limits.pixels)
    throw tooLarge(source, stream.width, stream.height, limits);
  const format = stream.pix_fmt ? pixelFormat(stream.pix_fmt, printed) : undefined;
  if (!format || stream.width <= 0 || stream.height <= 0)
    throw new ClipUnreadable(
      source.path,
      `its picture (${stream.codec_name ?? 'unknown codec'}) cannot be decoded; the file may be cut short.`,
      'Ask the sender for it again, or for another codec.',
    );
  const { facts, frameSlack } = factsOf(
    source,
    probe,
    await withoutEmptySlots(source, stream, probe, limits),
    format,
  );
  if (facts.frames > limits.frames)
    throw new ClipUnreadable(
      source.path,
      `it has ${facts.frames} frames, more than the ${limits.frames} that this house measures in one clip.`,
      'Cut it into parts, or raise BEVRIN_MAX_FRAMES.',
    );
  return { source, format, stream: stream.index, facts, frameSlack, limits };
});

/** Of an AVI that leaves slots empty: how many frames there are instead, and how many come in a second. */
const withoutEmptySlots = async (
  source: Source,
  stream: Stream,
  { format }: z.infer<typeof Probe>,
  limits: DecodeLimits,
): Promise<Stream> => {
  const slots = Number(stream.nb_frames);
  if (format.format_name !== 'avi' || !(slots > 0) || !usable(stream.r_frame_rate)) return stream;
  const frames = await framesInSlots(source, stream.index, slots, INDEX_SLACK, limits);
  if (frames === null || frames >= slots - INDEX_SLACK) return stream;
  const [a, b] = stream.r_frame_rate.split('/').map(Number);
  return { ...stream, nb_frames: String(frames), avg_frame_rate: `${a * frames}/${b * slots}` };
};

/** What the decoders of ffmpeg say of a picture above their limit. */
const TOO_MANY_PIXELS = /Picture size (\d+)x(\d+) exceeds specified max pixel count/;

const tooLarge = (source: Source, width: number, height: number, limits: DecodeLimits): ClipUnreadable =>
  new ClipUnreadable(
    source.path,
    `its picture has ${width}×${height} pixels, more than the ${limits.pixels / 1e6} million that this house decodes.`,
    'Ask for a smaller one, or raise BEVRIN_MAX_PIXELS.',
  );

const factsOf = (
  source: Source,
  probe: z.infer<typeof Probe>,
  stream: Stream,
  format: PixelFormat,
): Pick<ProbedClip, 'facts' | 'frameSlack'> => {
  const assumed: ClipFacts['assumed'] = [];
  const rate = rateOf(source, stream, assumed);
  const { frames, slack } = framesOf(source, stream, probe, rate);
  const rotation = rotationOf(stream);
  const turned = rotation === 90 || rotation === 270;
  const facts: ClipFacts = {
    file: source.path,
    container: probe.format.format_name.split(',')[0],
    codec: stream.codec_name ?? 'unknown',
    width: turned ? stream.height : stream.width,
    height: turned ? stream.width : stream.height,
    rotation,
    pixelAspect: aspectOf(stream.sample_aspect_ratio),
    ...rate,
    scan: scanOf(stream, assumed),
    fieldOrder: FIRST_FIELD[stream.field_order ?? ''] ?? null,
    bitDepth: format.depth,
    pixelFormat: format.name,
    frames,
    durationSec: frames / rationalToNumber(rate.frameRate),
    ...coloursOf(stream, format, assumed),
    assumed,
  };
  return { facts, frameSlack: slack };
};

const usable = (rate: string): boolean => /^[1-9]\d*\/[1-9]\d*$/.test(rate);

const rateOf = (
  source: Source,
  stream: Stream,
  assumed: ClipFacts['assumed'],
): Pick<ClipFacts, 'frameRate' | 'variableFrameRate'> => {
  if (source.stills !== null) {
    assumed.push('frameRate');
    return { frameRate: ASSUMED_STILLS_RATE, variableFrameRate: false };
  }
  const { r_frame_rate: base, avg_frame_rate: average } = stream;
  if (!usable(base) && !usable(average)) {
    assumed.push('frameRate');
    return { frameRate: ASSUMED_STILLS_RATE, variableFrameRate: false };
  }
  if (!usable(base) || !usable(average))
    return { frameRate: usable(base) ? base : average, variableFrameRate: false };
  const variable = Math.abs(rationalToNumber(average) / rationalToNumber(base) - 1) > STEADY_RATE;
  // One frame has no average worth the name.
  return stream.nb_frames === '1'
    ? { frameRate: base, variableFrameRate: false }
    : { frameRate: variable ? average : base, variableFrameRate: variable };
};

/** Containers count differently what an edit list leaves out at its ends. */
const INDEX_SLACK = 2;
/** A duration is rounded, and starts where the first picture is shown. */
const DURATION_SLACK_SEC = 0.5;
/** Containers whose duration is measured on what is there: it tells nothing about what was cut off. */
const DURATION_BY_CONTENT = new Set([
  'mpeg',
  'mpegts',
  'yuv4mpegpipe',
  'h264',
  'hevc',
  'm4v',
  'mpegvideo',
  'ogg',
]);

/** How many frames there should be, and how far that may be off; no slack is known where nobody states a number. */
const framesOf = (
  source: Source,
  stream: Stream,
  probe: z.infer<typeof Probe>,
  { frameRate, variableFrameRate }: Pick<ClipFacts, 'frameRate' | 'variableFrameRate'>,
): { frames: number; slack: number | null } => {
  if (source.stills !== null) return { frames: source.stills, slack: 0 };
  const rate = rationalToNumber(frameRate);
  const own = Number(stream.duration ?? secondsIn(stream.tags.DURATION) ?? NaN);
  const counted = Number(stream.nb_frames ?? stream.tags.NUMBER_OF_FRAMES);
  if (Number.isInteger(counted) && counted > 0) {
    // An edit list shows less than what is stored.
    const shown = Number.isFinite(own) ? Math.floor(own * rate) : counted;
    return { frames: shown < counted - INDEX_SLACK ? Math.max(1, shown) : counted, slack: INDEX_SLACK };
  }
  const seconds = Number.isFinite(own) ? own : Number(probe.format.duration ?? NaN);
  if (!Number.isFinite(seconds)) return { frames: 1, slack: null };
  const name = probe.format.format_name.split(',')[0];
  // The whole file may last longer than its picture, when its sound does.
  const stated = Number.isFinite(own) || probe.streams.length === 1;
  const reliable = stated && !variableFrameRate && !DURATION_BY_CONTENT.has(name);
  return {
    frames: Math.max(1, Math.round(seconds * rate)),
    slack: reliable ? Math.max(INDEX_SLACK, Math.ceil(DURATION_SLACK_SEC * rate)) : null,
  };
};

/** `00:01:02.500000000`, as Matroska writes the duration of a track, in seconds. */
const secondsIn = (text: string | undefined): number | undefined => {
  const parts = /^(\d+):(\d+):(\d+(?:\.\d+)?)$/.exec(text ?? '');
  return parts ? Number(parts[1]) * 3600 + Number(parts[2]) * 60 + Number(parts[3]) : undefined;
};

const rotationOf = (stream: Stream): ClipFacts['rotation'] => {
  const turn = stream.side_data_list.find((s) => s.rotation !== undefined)?.rotation ?? 0;
  // The matrix states how far the stored picture is turned back, counter-clockwise.
  const clockwise = (((Math.round(-turn / 90) * 90) % 360) + 360) % 360;
  return clockwise as ClipFacts['rotation'];
};

const aspectOf = (ratio: string | undefined): number => {
  const [width, height] = (ratio ?? '1:1').split(':').map(Number);
  return width > 0 && height > 0 ? width / height : 1;
};

const scanOf = (stream: Stream, assumed: ClipFacts['assumed']): ClipFacts['scan'] => {
  if (stream.field_order === undefined || stream.field_order === 'unknown') {
    assumed.push('scan');
    return 'progressive';
  }
  return stream.field_order === 'progressive' ? 'progressive' : 'interlaced';
};

/** The field that is shown first: the second letter of ffprobe's pairs, coded order before shown order. */
const FIRST_FIELD: Record<string, ClipFacts['fieldOrder']> = {
  tt: 'top',
  bt: 'top',
  bb: 'bottom',
  tb: 'bottom',
};

const MATRICES: Record<string, ClipFacts['matrix']> = {
  bt709: 'bt709',
  smpte170m: 'bt601',
  bt470bg: 'bt601',
  bt2020nc: 'bt2020',
  bt2020c: 'bt2020',
  gbr: 'rgb',
  rgb: 'rgb',
};
const TRANSFERS: Record<string, ClipFacts['transfer']> = {
  bt709: 'bt709',
  smpte170m: 'bt709',
  bt470m: 'bt709',
  bt470bg: 'bt709',
  'bt2020-10': 'bt709',
  'bt2020-12': 'bt709',
  'iec61966-2-1': 'srgb',
  linear: 'linear',
  smpte2084: 'pq',
  'arib-std-b67': 'hlg',
};

const coloursOf = (
  stream: Stream,
  format: PixelFormat,
  assumed: ClipFacts['assumed'],
): Pick<ClipFacts, 'range' | 'matrix' | 'transfer'> => {
  const orAssume = <T>(what: ClipFacts['assumed'][number], found: T | undefined, otherwise: T): T => {
    if (found === undefined) assumed.push(what);
    return found ?? otherwise;
  };
  const tagged = stream.color_range === 'pc' ? 'full' : stream.color_range === 'tv' ? 'limited' : undefined;
  // RGB planes and the full-range formats of old hold all codes by definition; grey ones do unless they say otherwise.
  const byFormat =
    format.rgb || format.name.startsWith('yuvj') || (format.grey && !tagged) ? 'full' : undefined;
  return {
    range: orAssume('range', byFormat ?? tagged, 'limited'),
    matrix: format.rgb ? 'rgb' : orAssume('matrix', MATRICES[stream.color_space ?? ''], 'bt709'),
    transfer: orAssume('transfer', TRANSFERS[stream.color_transfer ?? ''], format.rgb ? 'srgb' : 'bt709'),
  };
};

/** First boxes of a QuickTime or MP4 file (ISO/IEC 14496-12). */
const FIRST_BOXES = new Set(['ftyp', 'moov', 'mdat', 'free', 'skip', 'wide', 'pnot', 'uuid']);

/** A file that only has the ending of a movie has no index either: its first bytes tell it from one that was cut short. */
const whyNotProbed = async (source: Source, stderr: string): Promise<[what: string, next: string]> => {
  const reason = whyUnreadable(stderr);
  if (!NO_INDEX.test(stderr)) return reason;
  const file = await open(source.path);
  const { buffer } = await file.read(Buffer.alloc(8), 0, 8, 0).finally(() => file.close());
  return FIRST_BOXES.has(buffer.toString('latin1', 4)) ? reason : NO_MEDIA;
};
