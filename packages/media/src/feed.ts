import type { FeedPlan, Frame, FrameView, Plane } from '@bevrin/core';
import { rawInput } from './encode.js';
import { ClipUnreadable } from './errors.js';
import type { PixelFormat } from './pixel-formats.js';
import { mustHaveFinished, wasStopped, whyUnreadable } from './failures.js';
import type { ProbedClip } from './probe.js';
import { readFrames } from './reader/reader.js';

export interface DecodeOptions {
  /** Told the share of the clip that is decoded, 0–1. */
  readonly progress?: (share: number) => void;
  readonly signal?: AbortSignal;
  /** Threads that the decoder may use; as many as it likes where it is not said. What it gives is the same. */
  readonly decoderThreads?: number;
  /** All frames that are to be seen, as they are stored, plane after plane: where they are at hand, nothing is decoded. */
  readonly frames?: readonly Uint8Array[];
}

/**
 * Decodes a clip once and hands out what the plan asks for: every frame small, some full size. A frame is handed
 * out as soon as it is there; the decoder goes on meanwhile, until as many frames wait as the reader holds.
 * @param take is given each frame; its samples are overwritten by the next frame of the same view
 * @returns how many frames the clip really has
 * @throws {ClipUnreadable} when nothing can be decoded, the file ends before its own count of frames, or it takes longer
 * than the house allows; {@link DecoderStopped} when the decoder was ended from outside, however far it had come
 */
export const decode = async (
  clip: ProbedClip,
  plan: FeedPlan,
  take: (frame: Frame) => void,
  { progress = () => undefined, signal, decoderThreads, frames: atHand }: DecodeOptions = {},
): Promise<number> => {
  const { facts, format, source } = clip;
  const asStored = isSmall(clip, plan);
  const shapes: Record<FrameView, readonly PlaneShape[]> = {
    small: [{ ...plan.small, bytes: asStored && facts.bitDepth <= 8 ? 1 : 2 }],
    burst: planesOf(facts.width, facts.height, format),
  };
  const reduce = asStored ? shiftedUp(facts.bitDepth) : (frame: Frame) => frame;
  const reduceBurst = plan.field ? topField() : (frame: Frame) => frame;
  const indexOf = burstIndex(plan);
  const watch = new DecodeWatch(clip, signal);
  let frames = 0;
  const finished = await readFrames(
    argumentsFor(clip, plan, decoderThreads, atHand !== undefined),
    { small: bytesOf(shapes.small), burst: bytesOf(shapes.burst) },
    (view, count, buffer) => {
      const planes = planesIn(buffer, shapes[view]);
      if (view === 'burst') take(reduceBurst({ view, index: indexOf(count), planes }));
      else {
        frames++;
        take(reduce({ view, index: count, planes }));
        progress(Math.min(1, frames / facts.frames));
      }
      watch.advanced(frames);
    },
    { signal: watch.signal, input: atHand },
  ).finally(() => watch.stop());
  const first = plan.range?.startFrame ?? 0;
  const reached = `at frame ${first + frames} of ${facts.frames}`;
  if (wasStopped(finished)) mustHaveFinished(source.path, finished, reached);
  if (frames === 0) throw new ClipUnreadable(source.path, ...whyUnreadable(finished.stderr));
  const last = Math.min(facts.frames - 1, plan.range?.endFrame ?? Infinity);
  const expected = last - first + 1;
  const cutShort = clip.frameSlack !== null && frames < expected - clip.frameSlack;
  if (cutShort || finished.code !== 0)
    throw new ClipUnreadable(
      source.path,
      `the file ends or breaks ${reached}: it was cut short or is damaged.`,
      'Copy it again, or ask the sender for it.',
    );
  return frames;
};

const WATCH_EVERY_MS = 1000;

/** Ends a decoder that is stuck, or that takes longer than a house allows for one clip. */
class DecodeWatch {
  private readonly late = new AbortController();
  private readonly began = performance.now();
  private moved = this.began;
  private frames = 0;
  private readonly timer: NodeJS.Timeout;
  readonly signal: AbortSignal;

  constructor(
    private readonly clip: ProbedClip,
    given: AbortSignal | undefined,
  ) {
    this.signal = given ? AbortSignal.any([given, this.late.signal]) : this.late.signal;
    this.timer = setInterval(() => {
      if (performance.now() - this.moved > clip.limits.stallMs) this.late.abort(this.stuck());
    }, WATCH_EVERY_MS);
    this.timer.unref();
  }

  /** @throws {ClipUnreadable} when the clip has taken longer than it may */
  advanced(frames: number): void {
    this.frames = frames;
    this.moved = performance.now();
    if (this.moved - this.began > this.clip.limits.decodeMs) throw this.tooSlow();
  }

  stop(): void {
    clearInterval(this.timer);
  }

  private get at(): string {
    return `frame ${this.frames} of ${this.clip.facts.frames}`;
  }

  private stuck(): ClipUnreadable {
    return new ClipUnreadable(
      this.clip.source.path,
      `the decoder gave nothing for ${this.clip.limits.stallMs / 1000} s after ${this.at}.`,
      'Check the disk the file is on, and ask the sender for the file again.',
    );
  }

  private tooSlow(): ClipUnreadable {
    return new ClipUnreadable(
      this.clip.source.path,
      `decoding had come to ${this.at} after ${this.clip.limits.decodeMs / 60_000} minutes, the longest that this house allows for one clip.`,
      'Cut it into parts, or raise BEVRIN_MAX_DECODE_MINUTES.',
    );
  }
}

/** A clip as small as the small view is handed on as it is stored; everything else is averaged to 16 bits. */
const isSmall = ({ facts, format }: ProbedClip, { small, field }: FeedPlan): boolean =>
  !field && !format.rgb && small.width === facts.width && small.height === facts.height;

const argumentsFor = (
  clip: ProbedClip,
  plan: FeedPlan,
  threads: number | undefined,
  atHand: boolean,
): string[] => {
  const { source, stream, format, facts } = clip;
  const { first, stride, length, count } = plan.bursts;
  const { width, height } = plan.small;
  const chosen = `gte(n,${first})*lt(mod(n-${first},${stride}),${length})*lt(n,${first + stride * count})`;
  // The luma plane as it is stored: naming both ranges the same keeps its levels from being stretched on the way.
  const luma = format.rgb ? 'format=gray16le' : 'extractplanes=y';
  const averaged = `scale=${width}:${height}:flags=bilinear:in_range=pc:out_range=pc,format=gray16le`;
  const before = [
    ...(plan.range && !atHand
      ? [`trim=start_frame=${plan.range.startFrame}:end_frame=${plan.range.endFrame + 1}`]
      : []),
    'split=2',
  ].join(',');
  const graph = [
    `[0:${atHand ? 0 : stream}]${before}[every][some]`,
    `[every]${plan.field ? 'field=top,' : ''}${isSmall(clip, plan) ? luma : `${luma},${averaged}`}[small]`,
    `[some]select='${chosen}',scale=${facts.width}:${facts.height},format=${format.planar}[burst]`,
  ].join(';');
  const raw = ['-fps_mode', 'passthrough', '-f', 'rawvideo'];
  return [
    '-nostdin',
    '-v',
    'error',
    ...(threads === undefined ? [] : ['-threads', String(threads)]),
    '-max_pixels',
    String(clip.limits.pixels),
    ...(atHand ? rawInput({ ...facts, pixelFormat: format.planar }) : source.input),
    // So little is done to each frame that to share it out costs more than it saves.
    '-filter_complex_threads',
    '1',
    '-filter_complex',
    graph,
    '-map',
    '[small]',
    ...raw,
    'pipe:3',
    '-map',
    '[burst]',
    ...raw,
    'pipe:4',
  ];
};

/** Brings codes of the clip's own depth up to the 16 bits of the small view. */
const shiftedUp = (depth: number) => {
  let shifted = new Uint16Array(0);
  return (frame: Frame): Frame => {
    const [plane] = frame.planes;
    if (shifted.length !== plane.samples.length) shifted = new Uint16Array(plane.samples.length);
    for (let i = 0; i < shifted.length; i++) shifted[i] = plane.samples[i] << (16 - depth);
    return { ...frame, planes: [{ ...plane, samples: shifted }] };
  };
};

/** Keeps the top field of each plane, and luma as it is stored beside it. The rows are overwritten by the next frame. */
const topField = () => {
  const kept: Plane['samples'][] = [];
  return (frame: Frame): Frame => {
    const planes = frame.planes.map(({ width, height, samples }, p): Plane => {
      const rows = Math.ceil(height / 2);
      if (kept[p]?.length !== width * rows) kept[p] = samples.slice(0, width * rows);
      for (let y = 0; y < rows; y++)
        kept[p].set(samples.subarray(2 * y * width, (2 * y + 1) * width), y * width);
      return { width, height: rows, samples: kept[p] };
    });
    return { ...frame, planes, woven: frame.planes[0] };
  };
};

/** Position in the clip of the n-th frame that the bursts deliver. */
const burstIndex =
  ({ bursts: { first, stride, length } }: FeedPlan) =>
  (n: number): number =>
    first + Math.floor(n / length) * stride + (n % length);

interface PlaneShape {
  readonly width: number;
  readonly height: number;
  readonly bytes: 1 | 2;
}

/** Shapes of the planes of a full-size frame, in the order in which they are stored. */
export const planesOf = (width: number, height: number, format: PixelFormat): PlaneShape[] => {
  const bytes = /\d+le$/.test(format.planar) ? 2 : 1;
  const chroma = {
    width: Math.ceil(width / 2 ** format.log2ChromaWidth),
    height: Math.ceil(height / 2 ** format.log2ChromaHeight),
    bytes,
  } as const;
  return format.grey ? [{ width, height, bytes }] : [{ width, height, bytes }, chroma, chroma];
};

const bytesOf = (shapes: readonly PlaneShape[]): number =>
  shapes.reduce((sum, s) => sum + s.width * s.height * s.bytes, 0);

const planesIn = (buffer: SharedArrayBuffer, shapes: readonly PlaneShape[]): Plane[] => {
  let offset = 0;
  return shapes.map(({ width, height, bytes }) => {
    const samples =
      bytes === 1
        ? new Uint8Array(buffer, offset, width * height)
        : new Uint16Array(buffer, offset, width * height);
    offset += width * height * bytes;
    return { width, height, samples };
  });
};
