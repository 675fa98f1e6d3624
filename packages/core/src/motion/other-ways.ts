import { isLongEnough } from './shots.js';
import type { Level } from '../picture/pyramid.js';
import type { SurroundingStep } from './beside.js';
import type { CameraMotion } from './camera.js';
import { cellMotions, cellOf, CELLS, COLUMNS, ROWS } from './cells.js';
import { Standing } from './standing.js';
import { CellRecord, type Surroundings } from './surroundings.js';
import type { TileMotions } from './tiles.js';

type Size = Pick<Level, 'width' | 'height'>;

/** Share of the frames (0–1) in which each cell of a grid did not follow the camera. */
export interface OutlierMap {
  readonly columns: number;
  readonly rows: number;
  readonly share: Float64Array;
}

/** What the camera did through some frames in which something else was followed: both inside. */
export interface OtherCourse {
  readonly startFrame: number;
  readonly endFrame: number;
  /** Share of the cells that went with the camera. */
  readonly share: number;
  /** Into a frame; `null` where it is not known. Pixels of the picture; `'stands'` for a camera that stood still. */
  readonly steps: 'stands' | readonly (SurroundingStep | null)[];
}

/** Through a longer take what surrounds is not kept: ten minutes of it are ten megabytes. */
const MOST_FRAMES = 15_000;

/** A run of frames through which something was followed: both inside. */
interface Stretch {
  readonly startFrame: number;
  endFrame: number;
  readonly standing: Standing;
  /** Given up once it was asked, or where the take is too long. */
  record: CellRecord | null;
  surroundings: Surroundings | null;
  /** Tiles of each cell that were found, and those that went another way than what was followed. */
  readonly found: Uint32Array;
  readonly strange: Uint32Array;
}

/** What went another way than what was followed; and where that, and not what was followed, tells what the camera did. */
export class OtherWays {
  private readonly stretches: Stretch[] = [];
  /** Of all stretches that were too short to be kept. */
  private readonly brief = { found: new Float64Array(CELLS), strange: new Float64Array(CELLS) };
  private frame = -1;
  private isOpen = false;
  private readonly motions = new Float64Array(2 * CELLS);

  /** @param frameRate frames a second */
  constructor(private readonly frameRate: number) {}

  /** A frame into which nothing was followed: a cut, a blank. */
  lost(): void {
    this.frame++;
    if (this.isOpen) this.close();
    this.isOpen = false;
  }

  /**
   * @param tiles where they were found in the frame
   * @param followed what was followed into it, and the tiles that went another way
   * @param size of the picture, pixels
   */
  take(tiles: TileMotions, followed: Pick<CameraMotion, 'motion' | 'bands' | 'outliers'>, size: Size): void {
    this.frame++;
    if (!this.isOpen) this.open(size);
    const stretch = this.stretches[this.stretches.length - 1];
    stretch.endFrame = this.frame;
    for (let i = 0; i < tiles.count; i++) {
      if (!tiles.found[i]) continue;
      const cell = cellOf(tiles, i, size);
      stretch.found[cell]++;
      stretch.strange[cell] += followed.outliers[i];
    }
    cellMotions(tiles, size, this.motions);
    stretch.standing.take(this.motions, followed.motion);
    if (this.frame - stretch.startFrame >= MOST_FRAMES) stretch.record = null;
    stretch.record?.take(this.motions, followed);
  }

  private open(size: Size): void {
    this.isOpen = true;
    this.stretches.push({
      startFrame: this.frame,
      endFrame: this.frame,
      standing: new Standing(),
      record: new CellRecord(size),
      surroundings: null,
      found: new Uint32Array(CELLS),
      strange: new Uint32Array(CELLS),
    });
  }

  private close(): void {
    const last = this.stretches[this.stretches.length - 1];
    if (isLongEnough(last)) {
      this.ask(last);
      return;
    }
    this.stretches.pop();
    last.found.forEach((n, cell) => (this.brief.found[cell] += n));
    last.strange.forEach((n, cell) => (this.brief.strange[cell] += n));
  }

  /** Where the camera did something else than what was followed; once every frame was taken. */
  courses(): OtherCourse[] {
    return this.asked().flatMap(({ startFrame, endFrame, standing, surroundings }): OtherCourse[] => {
      const share = standing.share();
      if (share > 0) return [{ startFrame, endFrame, share, steps: 'stands' }];
      return surroundings
        ? [{ startFrame, endFrame, share: surroundings.share, steps: surroundings.steps }]
        : [];
    });
  }

  /** What did not follow the camera: where something else was followed, all that was. */
  outliers(): OutlierMap {
    const [found, strange] = [this.brief.found.slice(), this.brief.strange.slice()];
    for (const stretch of this.asked()) {
      const stands = stretch.standing.share() > 0;
      const followsCamera = stands ? null : (stretch.surroundings?.cells ?? null);
      for (let cell = 0; cell < CELLS; cell++) {
        const all = stretch.found[cell];
        found[cell] += all;
        if (followsCamera) strange[cell] += followsCamera[cell] ? 0 : all;
        else strange[cell] += stands ? all - stretch.strange[cell] : stretch.strange[cell];
      }
    }
    return { columns: COLUMNS, rows: ROWS, share: strange.map((n, cell) => n / Math.max(1, found[cell])) };
  }

  private asked(): readonly Stretch[] {
    for (const stretch of this.stretches) this.ask(stretch);
    return this.stretches;
  }

  /** Asks the record of a stretch what surrounds, and gives it up. */
  private ask(stretch: Stretch): void {
    const { record } = stretch;
    if (!record) return;
    stretch.surroundings = isLongEnough(stretch) ? record.surroundings(this.frameRate) : null;
    stretch.record = null;
  }
}
