import type { Shot } from '@bevrin/contract';
import type { Frame } from '../picture/frame.js';
import { asLevel, halve, type Level } from '../picture/pyramid.js';
import { prepare, register, type Prepared, type Registration } from './register.js';
import { ShotFinder } from './shots.js';

/** What all measures stand on, worked out once from the small view. */
export interface Ground {
  /** Luma of the small frame in hand, codes shifted up to 16 bits; halved once more where it is wide. */
  readonly picture: Level;
  /** Motion from the frame before to the small frame in hand, in pixels of `picture`; `null` where it is unknown. */
  readonly motion: Registration | null;
  /** The shots; complete once every small frame was taken. */
  shots(): readonly Shot[];
}

/** A small view at least this wide is followed at half its size: a quarter of the work, still within a fraction of a pixel. */
const HALVED_FROM = 400;

/** Follows the small view: camera motion from frame to frame, and cuts. */
export class RunningGround implements Ground {
  picture: Level = { width: 0, height: 0, samples: new Float32Array(0) };
  motion: Registration | null = null;
  private before: Prepared | null = null;
  private readonly finder = new ShotFinder();

  take(frame: Frame): void {
    const [plane] = frame.planes;
    this.picture = plane.width >= HALVED_FROM ? halve(plane) : asLevel(plane);
    this.finder.take(this.picture);
    const prepared = prepare(this.picture);
    this.motion = this.before && register(this.before, prepared);
    this.before = prepared;
  }

  shots(): readonly Shot[] {
    return this.finder.finish();
  }
}
