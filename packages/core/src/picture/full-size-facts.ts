import type { ClipFacts, MeasuredClip } from '#terms';
import { ScanFinder } from '../motion/scan.js';
import { BlockEdges } from './blocks.js';
import type { Frame } from './frame.js';
import { lumaScale } from './signal.js';

/** What full-size frames show of the file itself: blocks of compression, and how its rows were exposed. */
export class FullSizeFacts {
  private readonly blocks: BlockEdges;
  private readonly scan: ScanFinder;

  constructor(clip: Pick<ClipFacts, 'bitDepth' | 'range'>) {
    this.blocks = new BlockEdges(clip);
    this.scan = new ScanFinder(lumaScale(clip).span);
  }

  take(frame: Frame): void {
    this.blocks.take(frame);
    this.scan.take(frame.woven ?? frame.planes[0], frame.index);
  }

  finish(): Pick<MeasuredClip, 'blockiness' | 'scanSeen' | 'fieldOrderSeen'> {
    const seen = this.scan.finish();
    return {
      blockiness: this.blocks.ratio(),
      scanSeen: seen?.scan ?? null,
      fieldOrderSeen: seen?.fieldOrder ?? null,
    };
  }
}
