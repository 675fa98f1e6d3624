import type { ClipFacts, MeasuredClip } from '#terms';
import { ScanFinder } from '../motion/scan.js';
import { BlockEdges } from './blocks.js';
import type { Frame } from './frame.js';
import { lumaScale } from './signal.js';

/** What full-size frames show of the file itself: blocks of compression, and how its rows were exposed. */
export class FullSizeFacts {
  private readonly blocks: BlockEdges;
  private readonly scan: ScanFinder;
  private luma = 0;
  private frames = 0;

  constructor(private readonly clip: Pick<ClipFacts, 'bitDepth' | 'range'>) {
    this.blocks = new BlockEdges(clip);
    this.scan = new ScanFinder(lumaScale(clip).span);
  }

  take(frame: Frame): void {
    this.blocks.take(frame);
    this.scan.take(frame.woven ?? frame.planes[0], frame.index);
    this.luma += meanOf(frame.planes[0].samples);
    this.frames++;
  }

  finish(): Pick<MeasuredClip, 'blockiness' | 'meanLumaPct' | 'scanSeen' | 'fieldOrderSeen'> {
    const seen = this.scan.finish();
    return {
      blockiness: this.blocks.ratio(),
      meanLumaPct: this.frames === 0 ? null : this.levelPct(),
      scanSeen: seen?.scan ?? null,
      fieldOrderSeen: seen?.fieldOrder ?? null,
    };
  }

  private levelPct(): number {
    const { black, span } = lumaScale(this.clip);
    return Math.round((1000 * (this.luma / this.frames - black)) / span) / 10;
  }
}

/** Samples that a mean is taken over: enough for a tenth of a percent. */
const SAMPLED = 40_001;

const meanOf = (samples: ArrayLike<number>): number => {
  const step = Math.max(1, Math.floor(samples.length / SAMPLED));
  let [sum, count] = [0, 0];
  for (let i = step >> 1; i < samples.length; i += step, count++) sum += samples[i];
  return sum / Math.max(1, count);
};
