import { rationalToNumber, type Measurement } from '#document';
import { slowCourse } from '../maths/smooth.js';
import { solveBanded } from '../maths/solve.js';
import { INTENDED_MOTION_HZ } from '../motion/intended.js';

/** How a picture lies off where it was meant to: clip pixels, radians, share of the size. */
export interface Displacement {
  readonly x: number;
  readonly y: number;
  readonly turn: number;
  readonly zoom: number;
}

/** The path of the picture's centre as it was measured. Frames of the clip. */
export class CameraPath {
  private readonly x: Float64Array;
  private readonly y: Float64Array;
  private readonly turn: readonly (number | null)[];
  private readonly zoom: readonly (number | null)[];
  private readonly shots: Measurement['shots'];
  private readonly rate: number;
  private readonly splines: Record<'x' | 'y', Spline>;

  /**
   * @param readout share of the frame interval over which the rows were read: what was measured is the mean over them
   * @returns `null` where the camera was not followed
   */
  static of(measurement: Measurement, readout = 0): CameraPath | null {
    return measurement.readings.shake.state === 'measured' ? new CameraPath(measurement, readout) : null;
  }

  private constructor({ readings: { shake }, shots, clip }: Measurement, readout: number) {
    const { jitterX, jitterY, intendedX, intendedY, jitterTurn, jitterZoom } = shake.series as Record<
      string,
      (number | null)[]
    >;
    this.x = sumOf(jitterX, intendedX);
    this.y = sumOf(jitterY, intendedY);
    this.turn = jitterTurn;
    this.zoom = jitterZoom;
    this.shots = shots;
    this.splines = { x: splineOf(this.x, shots, readout), y: splineOf(this.y, shots, readout) };
    this.rate = rationalToNumber(clip.frameRate);
  }

  /**
   * Where the centre lies at a time between frames, against where it lies in the frame itself.
   * @param later so many frames later, within the next or the last
   */
  moved(frame: number, later: number): { x: number; y: number } {
    return { x: this.between('x', frame, later), y: this.between('y', frame, later) };
  }

  private between(axis: 'x' | 'y', frame: number, later: number): number {
    const shot = this.shots.find((s) => frame >= s.startFrame && frame <= s.endFrame);
    const { path, bend } = this.splines[axis];
    if (!shot || shot.startFrame === shot.endFrame || later === 0) return 0;
    const way = later < 0 ? -1 : 1;
    const next = frame + way;
    const t = Math.abs(later);
    // Beyond the ends of the shot it goes on as it went.
    if (next < shot.startFrame || next > shot.endFrame) return -this.between(axis, frame, -later);
    const slope = path[next] - path[frame] - (2 * bend[frame] + bend[next]) / 6;
    return t * (slope + t * (bend[frame] / 2 + (t * (bend[next] - bend[frame])) / 6));
  }

  /**
   * What a smoothing over so many frames takes for jitter in each frame; over one second the measure's own cut.
   * @param keepMove whether a slow move is kept; otherwise the picture is held still
   */
  jitter(smoothingFrames: number, keepMove: boolean): (frame: number) => Displacement {
    const x = new Float64Array(this.x.length);
    const y = new Float64Array(this.x.length);
    for (const { startFrame, endFrame } of this.shots)
      for (const [from, to] of [
        [this.x, x],
        [this.y, y],
      ] as const) {
        const own = from.slice(startFrame, endFrame + 1);
        const course = keepMove
          ? slowCourse(own, this.rate, (INTENDED_MOTION_HZ * this.rate) / smoothingFrames)
          : new Float64Array(own.length).fill(middleOf(own));
        own.forEach((v, i) => (to[startFrame + i] = Number.isNaN(v) ? 0 : v - course[i]));
      }
    return (frame) => ({
      x: x[frame] ?? 0,
      y: y[frame] ?? 0,
      turn: ((this.turn[frame] ?? 0) * Math.PI) / 180,
      zoom: (this.zoom[frame] ?? 0) / 100,
    });
  }
}

/** A path without gaps, and its second derivatives. */
interface Spline {
  readonly path: Float64Array;
  readonly bend: Float64Array;
}

/** Shots are apart: nothing is carried over a cut. */
const splineOf = (whole: Float64Array, shots: Measurement['shots'], readout: number): Spline => {
  const spline = { path: new Float64Array(whole.length), bend: new Float64Array(whole.length) };
  for (const { startFrame, endFrame } of shots) {
    const mean = withoutGaps(whole.slice(startFrame, endFrame + 1));
    // The mean of a path over a time T about a moment is the path there and T²/24 of its second derivative.
    const bend = curvatures(mean);
    const own = mean.map((v, i) => v - ((readout * readout) / 24) * bend[i]);
    spline.path.set(own, startFrame);
    spline.bend.set(curvatures(own), startFrame);
  }
  return spline;
};

const sumOf = (a: readonly (number | null)[], b: readonly (number | null)[]): Float64Array =>
  Float64Array.from(a, (v, i) => {
    const other = b[i];
    return v === null || other === null ? NaN : v + other;
  });

const middleOf = (values: Float64Array): number => {
  const known = values.filter((v) => !Number.isNaN(v)).sort();
  return known.length > 0 ? known[known.length >> 1] : 0;
};

/**
 * Second derivatives of the natural cubic spline through a path: it follows quick swings that a cubic through four points
 * flattens (de Boor 1978). Unknown places lie on the line between their neighbours.
 */
const curvatures = (path: Float64Array): Float64Array => {
  const n = path.length;
  const out = new Float64Array(n);
  if (n < 3) return out;
  const diagonal = new Float64Array(n).fill(4);
  const beside = new Float64Array(n).fill(1);
  for (let i = 1; i < n - 1; i++) out[i] = 6 * (path[i - 1] - 2 * path[i] + path[i + 1]);
  [diagonal[0], diagonal[n - 1]] = [1, 1];
  // Nothing bends at the ends, so that these rows stand apart.
  [beside[1], beside[n - 1]] = [0, 0];
  solveBanded([diagonal, beside], [out]);
  return out;
};

const withoutGaps = (path: Float64Array): Float64Array => {
  const out = path.slice();
  let last = -1;
  for (let i = 0; i < out.length; i++) {
    if (Number.isNaN(out[i])) continue;
    for (let k = last + 1; k < i; k++)
      out[k] = last < 0 ? out[i] : out[last] + ((out[i] - out[last]) * (k - last)) / (i - last);
    last = i;
  }
  return last < 0 ? out.fill(0) : out.fill(out[last], last + 1);
};
