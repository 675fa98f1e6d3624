import type { Shot } from '@bevrin/contract';
import type { Frame } from '../picture/frame.js';
import { asLevel } from '../picture/pyramid.js';
import { prepare, register, type Prepared, type Registration } from './register.js';
import { ShotFinder } from './shots.js';

/** What all measures stand on, worked out once from the small view. */
export interface Ground {
  /** Motion from the frame before to the small frame in hand, or `null` where it is unknown. */
  readonly motion: Registration | null;
  /** The shots; complete once every small frame was taken. */
  shots(): readonly Shot[];
}

/** Follows the small view: camera motion from frame to frame, and cuts. */
export class RunningGround implements Ground {
  motion: Registration | null = null;
  private before: Prepared | null = null;
  private readonly finder = new ShotFinder();

  take(frame: Frame): void {
    this.finder.take(frame);
    const prepared = prepare(asLevel(frame.planes[0]));
    this.motion = this.before ? register(this.before, prepared) : null;
    this.before = prepared;
  }

  shots(): readonly Shot[] {
    return this.finder.finish();
  }
}
