import type { Defect, Measurement, Overrides } from '@bevrin/contract';
import { beginMeasurement } from '@bevrin/core';
import { decode, type DecodeOptions } from './feed.js';
import { probeClip, type ProbedClip } from './probe.js';
import { readyToRead } from './reader/reader.js';
import { openSource } from './source.js';
import { ClipUnreadable } from './errors.js';
import { printable, rationalToNumber } from '@bevrin/contract';
import { basename } from 'node:path';

export interface MeasureClipOptions extends DecodeOptions {
  /** What the technician decided about how the clip is measured. */
  readonly overrides?: Overrides;
  /** The measures that look; all of them where it is not said. */
  readonly only?: readonly Defect[];
  /** Told the milliseconds that each measure took. */
  readonly profile?: (spent: Record<string, number>) => void;
}

/**
 * Measures one clip from its file: the same for the command and for the server.
 * @param path a media file, a folder of numbered stills, or a pattern
 * @throws {ClipUnreadable} {@link DecoderStopped} {@link ToolMissing}
 */
export const measureClip = async (path: string, options: MeasureClipOptions = {}): Promise<Measurement> => {
  readyToRead();
  const clip = await probeClip(await openSource(path));
  const { overrides = {} } = options;
  if (overrides.range && overrides.range.startFrame >= clip.facts.frames)
    throw new ClipUnreadable(
      path,
      `the in point, frame ${overrides.range.startFrame}, lies behind its last frame, ${clip.facts.frames - 1}.`,
      'Choose an earlier in point.',
    );
  return measureProbed(clip, path, options);
};

/**
 * Measures frames that are at hand as a clip of their own.
 * @param of the clip that they come from: they are as large, as deep and as fast
 * @param frames as they are stored, plane after plane
 */
export const measureFrames = (
  of: ProbedClip,
  frames: readonly Uint8Array[],
  options: MeasureClipOptions = {},
): Promise<Measurement> => {
  const durationSec = frames.length / rationalToNumber(of.facts.frameRate);
  const clip = { ...of, facts: { ...of.facts, frames: frames.length, durationSec } };
  return measureProbed(clip, of.source.path, { ...options, frames });
};

const measureProbed = async (
  clip: ProbedClip,
  path: string,
  options: MeasureClipOptions,
): Promise<Measurement> => {
  const { overrides = {}, only } = options;
  const measurement = await beginMeasurement(
    { ...clip.facts, file: printable(basename(path)) },
    { overrides, only, clock: options.profile && (() => performance.now()) },
  );
  const result = measurement.finish(await decode(clip, measurement.plan, measurement.take, options));
  options.profile?.(measurement.profile());
  return result;
};
