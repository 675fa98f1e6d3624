import type { CameraMotion } from './camera.js';
import type { Level } from '../picture/pyramid.js';
import type { TileMotions } from './tiles.js';

type Size = Pick<Level, 'width' | 'height'>;

/** Share of the frames (0–1) in which each cell of a grid did not follow the camera. */
export interface OutlierMap {
  readonly columns: number;
  readonly rows: number;
  readonly share: Float64Array;
}

/** Cells of the picture that are watched. */
const COLUMNS = 16;
const ROWS = 9;
const CELLS = COLUMNS * ROWS;
/** What is followed has gone on when it lies this far from where it was, pixels: then it is asked what has not. */
const GONE_ON = 1;
/** A cell whose tiles are found within this of where they were, pixels, has not: by the errors of the tiles on the way. */
const STAYED = 0.2;
/** It stands when it stayed in so many of the times that it was asked; less often than this it is not known. */
const NEARLY_ALWAYS = 0.9;
const LEAST_ASKED = 3;
/** A stretch of fewer frames is not asked: only what went its own way in it is kept. */
const LEAST_FRAMES = 8;
/** Share of the cells that were asked which must stand, and in so many rows of them: a title or a clock stands in few. */
const LEAST_STANDING = 0.08;
const LEAST_ROWS = 4;

/** A run of frames through which something was followed: both inside. */
interface Stretch {
  readonly startFrame: number;
  endFrame: number;
  /** How often each cell was asked whether it stayed, and how often it had. */
  readonly asked: Uint32Array;
  readonly stayed: Uint32Array;
  /** Tiles of each cell that were found, and those that went another way than what was followed. */
  readonly found: Uint32Array;
  readonly strange: Uint32Array;
}

/** Frames in which the camera stood still though something else was followed: both inside. */
export interface StoodStill {
  readonly startFrame: number;
  readonly endFrame: number;
  /** Share of the cells that stood. */
  readonly share: number;
}

/** Where a tile lies on the grid. */
const cellOf = (tiles: TileMotions, i: number, { width, height }: Size): number => {
  const column = Math.min(COLUMNS - 1, Math.max(0, Math.floor((tiles.x[i] / width + 0.5) * COLUMNS)));
  const row = Math.min(ROWS - 1, Math.max(0, Math.floor((tiles.y[i] / height + 0.5) * ROWS)));
  return row * COLUMNS + column;
};

/**
 * What went another way than what was followed, and whether a camera stood still while what most of its picture showed went
 * on: water, leaves, clouds, a face that fills it. A hand is never still to a fraction of a pixel, nor is what it follows; what
 * stands as still as the sensor in many places throughout says that the sensor stands.
 */
export class Standing {
  private readonly stretches: Stretch[] = [];
  /** Of all stretches that were too short to be kept. */
  private readonly brief = { found: new Float64Array(CELLS), strange: new Float64Array(CELLS) };
  /** How far the tiles of each cell went since it was asked last, x and y in turn; `NaN` where they were lost on the way. */
  private readonly went = new Float64Array(2 * CELLS);
  private followed = { dx: 0, dy: 0 };
  private frame = -1;
  private isOpen = false;
  private readonly now = new Float64Array(3 * CELLS);

  /** A frame into which nothing was followed: a cut, a blank. */
  lost(): void {
    this.frame++;
    const last = this.stretches[this.stretches.length - 1];
    if (this.isOpen && last.endFrame - last.startFrame + 1 < LEAST_FRAMES) {
      this.stretches.pop();
      last.found.forEach((n, cell) => (this.brief.found[cell] += n));
      last.strange.forEach((n, cell) => (this.brief.strange[cell] += n));
    }
    this.isOpen = false;
  }

  /**
   * @param tiles where they were found in the frame
   * @param followed what was followed into it, and the tiles that went another way
   * @param size of the picture, pixels
   */
  take(
    tiles: TileMotions,
    { motion, outliers }: Pick<CameraMotion, 'motion' | 'outliers'>,
    size: Size,
  ): void {
    this.frame++;
    if (!this.isOpen) this.open();
    const { now, went, followed } = this;
    const stretch = this.stretches[this.stretches.length - 1];
    stretch.endFrame = this.frame;
    now.fill(0);
    for (let i = 0; i < tiles.count; i++) {
      if (!tiles.found[i]) continue;
      const cell = cellOf(tiles, i, size);
      stretch.found[cell]++;
      stretch.strange[cell] += outliers[i];
      now[3 * cell]++;
      now[3 * cell + 1] += tiles.dx[i];
      now[3 * cell + 2] += tiles.dy[i];
    }
    for (let cell = 0; cell < CELLS; cell++) {
      const n = now[3 * cell];
      went[2 * cell] += n > 0 ? now[3 * cell + 1] / n : NaN;
      went[2 * cell + 1] += n > 0 ? now[3 * cell + 2] / n : NaN;
    }
    followed.dx += motion.dx;
    followed.dy += motion.dy;
    if (Math.hypot(followed.dx, followed.dy) < GONE_ON) return;
    for (let cell = 0; cell < CELLS; cell++) {
      const far = Math.hypot(went[2 * cell], went[2 * cell + 1]);
      if (Number.isNaN(far)) continue;
      stretch.asked[cell]++;
      if (far <= STAYED) stretch.stayed[cell]++;
    }
    this.askAnew();
  }

  private open(): void {
    this.isOpen = true;
    this.askAnew();
    this.stretches.push({
      startFrame: this.frame,
      endFrame: this.frame,
      asked: new Uint32Array(CELLS),
      stayed: new Uint32Array(CELLS),
      found: new Uint32Array(CELLS),
      strange: new Uint32Array(CELLS),
    });
  }

  private askAnew(): void {
    this.went.fill(0);
    this.followed = { dx: 0, dy: 0 };
  }

  stoodStill(): StoodStill[] {
    return this.stretches.flatMap((stretch) => {
      const share = standingShare(stretch);
      return share === 0 ? [] : [{ startFrame: stretch.startFrame, endFrame: stretch.endFrame, share }];
    });
  }

  /** What did not follow the camera: where it stood still, all that was followed. */
  outliers(): OutlierMap {
    const [found, strange] = [this.brief.found.slice(), this.brief.strange.slice()];
    for (const stretch of this.stretches) {
      const stands = standingShare(stretch) > 0;
      for (let cell = 0; cell < CELLS; cell++) {
        found[cell] += stretch.found[cell];
        strange[cell] += stands ? stretch.found[cell] - stretch.strange[cell] : stretch.strange[cell];
      }
    }
    return { columns: COLUMNS, rows: ROWS, share: strange.map((n, cell) => n / Math.max(1, found[cell])) };
  }
}

/** Share of the cells that stood all the time; 0 where they are too few, or lie as a title does. */
const standingShare = ({ asked, stayed }: Stretch): number => {
  let [known, standing] = [0, 0];
  const rows = new Set<number>();
  for (let cell = 0; cell < CELLS; cell++) {
    if (asked[cell] < LEAST_ASKED) continue;
    known++;
    if (stayed[cell] < NEARLY_ALWAYS * asked[cell]) continue;
    standing++;
    rows.add(Math.floor(cell / COLUMNS));
  }
  const share = standing / Math.max(1, known);
  return share >= LEAST_STANDING && rows.size >= LEAST_ROWS ? share : 0;
};
