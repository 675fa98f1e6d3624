import type { Readable } from 'node:stream';
import type { FrameLayout } from '@bevrin/contract';
import { ClipUnreadable } from './errors.js';
import { planesOf } from './feed.js';
import { mustHaveFinished, whyUnreadable } from './failures.js';
import type { ProbedClip } from './probe.js';
import { atFrame, seeking } from './stills.js';
import { start, type Finished } from './tools.js';

/** How the stored frames of a clip lie in their bytes. */
export const layoutOf = ({ facts, format }: ProbedClip): FrameLayout => {
  const planes = planesOf(facts.width, facts.height, format);
  return {
    bytesPerSample: planes[0].bytes,
    planes: planes.map(({ width, height }) => ({ width, height })),
  };
};

const sizeOf = ({ bytesPerSample, planes }: FrameLayout): number =>
  planes.reduce((sum, p) => sum + p.width * p.height * bytesPerSample, 0);

/**
 * The code values of frames as they are stored, one after another from some frame on. The decoder waits, where it
 * stands, until the next frame is asked for: going on is quick, even far from a key frame.
 */
export class FrameRun {
  private readonly process: ReturnType<typeof start>['process'];
  private readonly ended: Promise<Finished>;
  private readonly bytes: number;
  private stopped = false;

  /** @param next the frame that comes next, from 0 */
  constructor(
    private readonly clip: ProbedClip,
    public next: number,
  ) {
    const { facts, format } = clip;
    this.bytes = sizeOf(layoutOf(clip));
    const sought = atFrame(clip, next).length > 0;
    const pick = sought || next === 0 ? '' : `select='gte(n,${next})',`;
    const args = [
      '-nostdin',
      '-v',
      'error',
      ...seeking(clip, next),
      '-map',
      `0:${clip.stream}`,
      '-vf',
      `${pick}scale=${facts.width}:${facts.height},format=${format.planar}`,
      '-fps_mode',
      'passthrough',
      '-f',
      'rawvideo',
      'pipe:1',
    ];
    const { process, ended } = start('ffmpeg', args, { stdio: ['ignore', 'pipe', 'pipe'] });
    // What nobody listens for when the decoder ends is thrown away: of a small clip the last frames, which wait in the pipe.
    (process.stdout as Readable).on('readable', () => undefined);
    this.process = process;
    this.ended = ended;
    ended.catch(() => undefined);
  }

  /**
   * Reads the next frame.
   * @returns its bytes; `null` behind the last frame, or when the run was stopped
   * @throws {ClipUnreadable} when it cannot be decoded; {@link DecoderStopped}; {@link ToolMissing}
   */
  async read(): Promise<Buffer | null> {
    const frame = Buffer.allocUnsafe(this.bytes);
    let filled = 0;
    while (filled < this.bytes) {
      const part = await this.part(this.bytes - filled);
      if (!part) break;
      filled += part.copy(frame, filled);
    }
    if (filled === this.bytes) {
      this.next++;
      return frame;
    }
    if (this.stopped) return null;
    const finished = await this.ended;
    const { stderr } = finished;
    mustHaveFinished(this.clip.source.path, finished, `at frame ${this.next}`);
    if (stderr) throw new ClipUnreadable(this.clip.source.path, ...whyUnreadable(stderr));
    return null;
  }

  /** Ends the decoder. */
  stop(): void {
    this.stopped = true;
    this.process.kill('SIGKILL');
  }

  /** What has come, at most so much; `null` at the end. */
  private async part(most: number): Promise<Buffer | null> {
    const out = this.process.stdout as Readable;
    for (;;) {
      const part = out.read(Math.min(most, out.readableLength || most)) as Buffer | null;
      if (part) return part;
      if (out.readableEnded || out.destroyed) {
        await this.ended;
        return null;
      }
      await new Promise<void>((resolve) => {
        const done = (): void => {
          out.off('readable', done).off('end', done).off('close', done).off('error', done);
          resolve();
        };
        out.once('readable', done).once('end', done).once('close', done).once('error', done);
      });
    }
  }
}
