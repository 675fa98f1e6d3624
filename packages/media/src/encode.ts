import { once } from 'node:events';
import { mkdir } from 'node:fs/promises';
import type { ClipFacts } from '@bevrin/contract';
import { run, start } from './tools.js';

export interface RawVideo {
  readonly width: number;
  readonly height: number;
  readonly frameRate: string;
  /** Name of the planar format of the frames. */
  readonly pixelFormat: string;
  /** How their codes are to be understood; as HD video where it is not said. */
  readonly colour?: Pick<ClipFacts, 'matrix' | 'transfer' | 'range'>;
}

interface Encoding {
  readonly ending: string;
  readonly args: readonly string[];
}

const MP4 = ['-movflags', '+faststart'];

/** Ways of storing a clip. `h264Lossless` and `ffv1` keep every code; the others are set as a camera or a post house would. */
export const CODECS = {
  h264: { ending: 'mp4', args: ['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '14', ...MP4] },
  h264Lossless: { ending: 'mp4', args: ['-c:v', 'libx264', '-preset', 'ultrafast', '-qp', '0', ...MP4] },
  hevc: {
    ending: 'mp4',
    args: [
      '-c:v',
      'libx265',
      '-preset',
      'superfast',
      '-crf',
      '8',
      '-x265-params',
      'log-level=error:early-skip=0:rskip=0',
      '-tag:v',
      'hvc1',
      ...MP4,
    ],
  },
  prores: { ending: 'mov', args: ['-c:v', 'prores_aw', '-profile:v', '3'] },
  dnxhd: { ending: 'mxf', args: ['-c:v', 'dnxhd', '-profile:v', 'dnxhr_hqx'] },
  mpeg2: { ending: 'mpg', args: ['-c:v', 'mpeg2video', '-q:v', '2'] },
  ffv1: { ending: 'mkv', args: ['-c:v', 'ffv1', '-level', '3'] },
  vp9: {
    ending: 'webm',
    args: ['-c:v', 'libvpx-vp9', '-crf', '12', '-b:v', '0', '-deadline', 'realtime', '-cpu-used', '8'],
  },
  av1: { ending: 'mkv', args: ['-c:v', 'libsvtav1', '-preset', '12', '-crf', '18'] },
  mjpeg: { ending: 'avi', args: ['-c:v', 'mjpeg', '-q:v', '2'] },
  /** Numbered stills in a folder of their own; 16 bits a sample where the frames have more than 8. */
  stills: { ending: 'stills', args: ['-c:v', 'png', '-f', 'image2'] },
  raw: { ending: 'y4m', args: ['-strict', '-1', '-f', 'yuv4mpegpipe'] },
} as const satisfies Record<string, Encoding>;
export type Codec = keyof typeof CODECS;

/** What is done to the frames on their way into the file. */
export interface Storage {
  /** Blown up to this size. */
  readonly enlargeTo?: { readonly width: number; readonly height: number };
  /** Two frames are woven into one, the top field first. */
  readonly interlaced?: boolean;
  /** One frame in every so many is left out, and the others keep their time. */
  readonly leaveOutEvery?: number;
}

const filtersFor = ({ enlargeTo, interlaced, leaveOutEvery }: Storage): string[] => {
  const filters = [
    ...(enlargeTo ? [`scale=${enlargeTo.width}:${enlargeTo.height}:flags=bicubic`] : []),
    ...(interlaced ? ['interlace=scan=tff:lowpass=off'] : []),
    ...(leaveOutEvery ? [`select=mod(n\\,${leaveOutEvery})-${leaveOutEvery >> 1}`] : []),
  ];
  return [
    ...(filters.length > 0 ? ['-vf', filters.join(',')] : []),
    ...(interlaced ? ['-flags', '+ildct+ilme', '-top', '1'] : []),
    ...(leaveOutEvery ? ['-fps_mode', 'passthrough'] : []),
  ];
};

const MATRICES = { bt709: 'bt709', bt601: 'smpte170m', bt2020: 'bt2020nc', rgb: 'rgb' } as const;
const PRIMARIES = { bt709: 'bt709', bt601: 'smpte170m', bt2020: 'bt2020', rgb: 'bt709' } as const;
const TRANSFERS = {
  bt709: 'bt709',
  srgb: 'iec61966-2-1',
  linear: 'linear',
  pq: 'smpte2084',
  hlg: 'arib-std-b67',
} as const;

const colourTags = ({ matrix, transfer, range }: Required<RawVideo>['colour']): string[] => [
  '-colorspace',
  MATRICES[matrix],
  '-color_trc',
  TRANSFERS[transfer],
  '-color_primaries',
  PRIMARIES[matrix],
  '-color_range',
  range === 'limited' ? 'tv' : 'pc',
];
/** How codes are to be understood where nothing else is said. */
export const HD_COLOUR = { matrix: 'bt709', transfer: 'bt709', range: 'limited' } as const;

/** How ffmpeg is told to read raw frames from its standard input. */
export const rawInput = (
  { width, height, frameRate, pixelFormat }: Omit<RawVideo, 'colour'>,
  tags: readonly string[] = [],
): string[] => [
  '-f',
  'rawvideo',
  '-pixel_format',
  pixelFormat,
  '-video_size',
  `${width}x${height}`,
  '-framerate',
  frameRate,
  ...tags,
  '-i',
  'pipe:0',
];

/**
 * Encodes raw frames into a file. The frames are asked for one by one, as fast as the encoder takes them.
 * @throws {Error} with the encoder's stderr
 */
export const encodeFrames = async (
  { width, height, frameRate, pixelFormat, colour = HD_COLOUR }: RawVideo,
  codec: Codec,
  frames: Iterable<Uint8Array>,
  path: string,
  storage: Storage = {},
): Promise<void> => {
  const stored = codec === 'stills' ? (pixelFormat.endsWith('10le') ? 'rgb48be' : 'rgb24') : pixelFormat;
  if (codec === 'stills') await mkdir(path, { recursive: true });
  const { process, ended } = start(
    'ffmpeg',
    [
      '-nostdin',
      '-v',
      'error',
      '-y',
      ...rawInput({ width, height, frameRate, pixelFormat }, colourTags(colour)),
      ...filtersFor(storage),
      ...CODECS[codec].args,
      '-pix_fmt',
      stored,
      ...colourTags(colour),
      '-bitexact',
      codec === 'stills' ? `${path}/%04d.png` : `file:${path}`,
    ],
    { stdio: ['pipe', 'ignore', 'pipe'] },
  );
  const pipe = process.stdin!;
  // An encoder that gives up closes the pipe; its stderr says why.
  pipe.on('error', () => undefined);
  const finished = ended.then(({ code, stderr }) => {
    if (code !== 0) throw new Error(`The encoder failed on ${path}: ${stderr.trim().slice(0, 500)}`);
  });
  const gaveUp = finished.then(() => true);
  gaveUp.catch(() => undefined);
  for (const frame of frames) {
    if (!pipe.writable) break;
    if (!pipe.write(Uint8Array.from(frame)))
      await Promise.race([once(pipe, 'drain').catch(() => undefined), gaveUp]);
  }
  pipe.end();
  await finished;
};

/** An hour of UHD is copied in less. */
const REPEAT_WITHIN_MS = 30 * 60_000;

/**
 * Joins a clip to itself, as it is stored, until it is long enough: nothing is encoded again.
 * @param path a clip that begins with a key frame
 * @throws {Error} with the joiner's stderr
 */
export const repeatClip = async (path: string, times: number, to: string): Promise<void> => {
  const args = [
    '-nostdin',
    '-v',
    'error',
    '-y',
    '-stream_loop',
    String(times - 1),
    '-i',
    `file:${path}`,
    '-c',
    'copy',
    `file:${to}`,
  ];
  const { code, stderr } = await run('ffmpeg', args, { withinMs: REPEAT_WITHIN_MS });
  if (code !== 0) throw new Error(`${path} could not be repeated: ${stderr.trim().slice(0, 500)}`);
};
