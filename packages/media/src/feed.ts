import type { ClipFacts } from '@bevrin/contract';
import type { FeedPlan, Frame, FrameView, Plane } from '@bevrin/core';
import { ClipUnreadable } from './errors.js';
import type { PixelFormat } from './pixel-formats.js';
import { whyUnreadable, type ProbedClip } from './probe.js';
import { readFrames } from './reader/reader.js';

/** Frames that may be missing at the end before a clip counts as cut short: containers differ in what they count. */
const MISSING_ALLOWED = 2;

export interface DecodeOptions {
  /** Told the share of the clip that is decoded, 0–1. */
  readonly progress?: (share: number) => void;
  readonly signal?: AbortSignal;
  readonly decoderThreads?: number;
}

/**
 * Decodes a clip once and hands out what the plan asks for: every frame small, some full size. A frame is handed
 * out as soon as it is there; the decoder goes on meanwhile, until as many frames wait as the reader holds.
 * @param take is given each frame; its samples are overwritten by the next frame of the same view
 * @returns how many frames the clip really has
 * @throws {ClipUnreadable} when nothing can be decoded, or the file ends before its own count of frames
 */
export const decode = async (
  clip: ProbedClip,
  plan: FeedPlan,
  take: (frame: Frame) => void,
  { progress = () => undefined, signal, decoderThreads }: DecodeOptions = {},
): Promise<number> => {
  const { facts, format, source } = clip;
  const asStored = isSmall(clip, plan);
  const shapes: Record<FrameView, readonly PlaneShape[]> = {
    small: [{ ...plan.small, bytes: asStored && facts.bitDepth <= 8 ? 1 : 2 }],
    burst: planesOf(facts.width, rowsOf(facts, plan), format),
  };
  const reduce = asStored ? shiftedUp(facts.bitDepth) : (frame: Frame) => frame;
  const indexOf = burstIndex(plan);
  let frames = 0;
  const { code, complaint } = await readFrames(
    argumentsFor(clip, plan, decoderThreads),
    { small: bytesOf(shapes.small), burst: bytesOf(shapes.burst) },
    (view, count, buffer) => {
      const planes = planesIn(buffer, shapes[view]);
      if (view === 'burst') return take({ view, index: indexOf(count), planes });
      frames++;
      take(reduce({ view, index: count, planes }));
      progress(Math.min(1, frames / facts.frames));
    },
    signal,
  );
  if (frames === 0) throw new ClipUnreadable(source.path, ...whyUnreadable(complaint));
  const expected = plan.range
    ? Math.min(facts.frames - 1, plan.range.endFrame) - plan.range.startFrame + 1
    : facts.frames;
  const cutShort = clip.framesStated && frames < expected - MISSING_ALLOWED && complaint.length > 0;
  if (cutShort || (code !== 0 && complaint.length > 0))
    throw new ClipUnreadable(
      source.path,
      `the file ends or breaks after frame ${frames} of ${facts.frames}: it was cut short or is damaged.`,
      'Copy it again, or ask the sender for it.',
    );
  return frames;
};

/** A clip as small as the small view is handed on as it is stored; everything else is averaged to 16 bits. */
const isSmall = ({ facts, format }: ProbedClip, { small, field }: FeedPlan): boolean =>
  !field && !format.rgb && small.width === facts.width && small.height === facts.height;

/** Rows of a full-size frame as it is handed out. */
const rowsOf = (facts: ClipFacts, { field }: FeedPlan): number =>
  field ? Math.ceil(facts.height / 2) : facts.height;

const argumentsFor = (clip: ProbedClip, plan: FeedPlan, threads: number | undefined): string[] => {
  const { source, stream, format, facts } = clip;
  const { first, stride, length, count } = plan.bursts;
  const { width, height } = plan.small;
  const chosen = `gte(n,${first})*lt(mod(n-${first},${stride}),${length})*lt(n,${first + stride * count})`;
  // The luma plane as it is stored: naming both ranges the same keeps its levels from being stretched on the way.
  const luma = format.rgb ? 'format=gray16le' : 'extractplanes=y';
  const averaged = `scale=${width}:${height}:flags=bilinear:in_range=pc:out_range=pc,format=gray16le`;
  const before = [
    ...(plan.range ? [`trim=start_frame=${plan.range.startFrame}:end_frame=${plan.range.endFrame + 1}`] : []),
    ...(plan.field ? ['field=top'] : []),
    'split=2',
  ].join(',');
  const graph = [
    `[0:${stream}]${before}[every][some]`,
    `[every]${isSmall(clip, plan) ? luma : `${luma},${averaged}`}[small]`,
    `[some]select='${chosen}',scale=${facts.width}:${rowsOf(facts, plan)},format=${format.planar}[burst]`,
  ].join(';');
  const raw = ['-fps_mode', 'passthrough', '-f', 'rawvideo'];
  return [
    '-nostdin',
    '-v',
    'error',
    ...(threads === undefined ? [] : ['-threads', String(threads)]),
    ...source.input,
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

const planesIn = (buffer: ArrayBuffer, shapes: readonly PlaneShape[]): Plane[] => {
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
