import type { Shot } from '@bevrin/contract';
import type { Frame } from '../picture/frame.js';
import { asLevel, type Level } from '../picture/pyramid.js';
import { prepare, register, type Prepared } from './register.js';
import type { Registration } from './similarity.js';
import { ShotFinder } from './shots.js';

/** What all measures stand on, worked out once from the small view. */
export interface Ground {
  /** Luma of the small frame in hand, codes shifted up to 16 bits. */
  readonly picture: Level;
  /** `picture` free of its local mean. */
  readonly detail: Level;
  /** Motion from the frame before to the small frame in hand, in pixels of `picture`; `null` where it is unknown. */
  readonly motion: Registration | null;
  /** How far apart the ends of the camera's path lie so far, clip pixels. */
  cameraMovedPx(): number;
  /** The shots; complete once every small frame was taken. */
  shots(): readonly Shot[];
}

const NOTHING: Level = { width: 0, height: 0, samples: new Float32Array(0) };

/** Follows the small view: camera motion from frame to frame, and cuts. */
export class RunningGround implements Ground {
  picture = NOTHING;
  detail = NOTHING;
  motion: Registration | null = null;
  private before: Prepared | null = null;
  private readonly finder = new ShotFinder();
  private readonly path = new Path();

  /** @param clip the size that the small view was made from */
  constructor(private readonly clip: { readonly width: number }) {}

  take(frame: Frame): void {
    this.picture = asLevel(frame.planes[0]);
    this.finder.take(this.picture);
    const prepared = prepare(this.picture);
    this.detail = prepared[0];
    this.motion = this.before && register(this.before, prepared);
    this.before = prepared;
    if (this.motion) this.path.add(this.motion.motion.dx, this.motion.motion.dy);
  }

  cameraMovedPx(): number {
    return (this.path.reach() * this.clip.width) / Math.max(1, this.picture.width);
  }

  shots(): readonly Shot[] {
    return this.finder.finish();
  }
}

/** Sums up steps and remembers how far they led. */
class Path {
  private x = 0;
  private y = 0;
  private readonly box = { left: 0, right: 0, top: 0, bottom: 0 };

  add(dx: number, dy: number): void {
    this.x += dx;
    this.y += dy;
    this.box.left = Math.min(this.box.left, this.x);
    this.box.right = Math.max(this.box.right, this.x);
    this.box.top = Math.min(this.box.top, this.y);
    this.box.bottom = Math.max(this.box.bottom, this.y);
  }

  reach(): number {
    return Math.max(this.box.right - this.box.left, this.box.bottom - this.box.top);
  }
}
