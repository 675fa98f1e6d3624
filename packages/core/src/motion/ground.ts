import type { Shot } from '@bevrin/contract';
import type { Frame } from '../picture/frame.js';
import { asLevel, halve } from '../picture/pyramid.js';
import { prepare, register, type Prepared, type Registration } from './register.js';
import { ShotFinder } from './shots.js';

/** What all measures stand on, worked out once from the small view. */
export interface Ground {
  /** Motion from the frame before to the small frame in hand, or `null` where it is unknown. */
  readonly motion: Registration | null;
  /** The shots; complete once every small frame was taken. */
  shots(): readonly Shot[];
}

/** A picture at least this wide is followed at half its size: a quarter of the work, still within a fraction of a pixel. */
const HALVED_FROM = 300;

/** Follows the small view: camera motion from frame to frame, and cuts. */
export class RunningGround implements Ground {
  motion: Registration | null = null;
  private before: Prepared | null = null;
  private readonly finder = new ShotFinder();

  take(frame: Frame): void {
    this.finder.take(frame);
    const [plane] = frame.planes;
    const halved = plane.width >= HALVED_FROM;
    const prepared = prepare(halved ? halve(plane) : asLevel(plane));
    const found = this.before && register(this.before, prepared);
    const k = halved ? 2 : 1;
    this.motion = found && { ...found, motion: { ...found.motion, dx: found.motion.dx * k, dy: found.motion.dy * k } };
    this.before = prepared;
  }

  shots(): readonly Shot[] {
    return this.finder.finish();
  }
}
