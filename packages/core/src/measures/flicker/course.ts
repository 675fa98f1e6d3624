import { SETTLED_AFTER, type ExposureChange } from './exposure.js';

/** A change and the way that its light goes: evenly in stops, as an iris does, or in light, as a lamp that is faded. */
export interface Course extends ExposureChange {
  readonly evenIn: 'stops' | 'light';
}

/** Frames by which a change that takes most of a shot begins and ends elsewhere than where it was found, at most. */
const ELSEWHERE = 7;

/** How much of a change, by its log of light, is done at a frame. */
const doneAt = (t: number, { frame, frames, size, evenIn }: Course): number => {
  const share = Math.max(0, Math.min(1, (t - frame + 1) / frames));
  return evenIn === 'stops' ? share : Math.log1p(share * Math.expm1(size)) / size;
};

/**
 * The courses of changes that take most of a shot, by all of the shot: there are no levels beside them that would tell more.
 * @param curve log light, one value a frame, `NaN` where unknown
 */
export const coursesOf = (curve: Float64Array, changes: readonly ExposureChange[]): Course[] => {
  const courses = changes.map((change): Course => ({ ...change, evenIn: 'stops' }));
  // Each with the others taken out, which were taken out of it as they were then known.
  for (let round = 0; round < SETTLED_AFTER; round++)
    courses.forEach((course, i) => {
      const others = courses.filter((_, k) => k !== i);
      courses[i] = courseOf(others.reduce(withoutRamp, curve), course);
    });
  return courses;
};

const courseOf = (curve: Float64Array, change: Course): Course => {
  let [best, least] = [change, Infinity];
  for (let early = -ELSEWHERE; early <= ELSEWHERE; early++)
    for (let late = -ELSEWHERE; late <= ELSEWHERE; late++)
      for (const evenIn of ['stops', 'light'] as const) {
        const [frame, frames] = [change.frame + early, change.frames + late - early];
        if (frame < 1 || frames < 2 || frame + frames > curve.length) continue;
        const tried: Course = { frame, frames, size: change.size, evenIn };
        const { size, left } = fitCourse(curve, (t) => doneAt(t, tried));
        if (left < least) [best, least] = [{ ...tried, size }, left];
      }
  return best;
};

/** Fits a level and so much of a course to a curve by least squares. */
const fitCourse = (curve: Float64Array, course: (t: number) => number): { size: number; left: number } => {
  let [n, c, cc, y, cy, yy] = [0, 0, 0, 0, 0, 0];
  curve.forEach((v, t) => {
    if (Number.isNaN(v)) return;
    const at = course(t);
    n++;
    c += at;
    cc += at * at;
    y += v;
    cy += at * v;
    yy += v * v;
  });
  const size = (n * cy - c * y) / (n * cc - c * c);
  return { size, left: yy - (y * y) / n - size * (cy - (c * y) / n) };
};

/**
 * A curve without a change that takes most of the shot, so that what swings about it can still be told.
 * @param curve log light, one value a frame
 */
export const withoutRamp = (curve: Float64Array, course: Course): Float64Array =>
  curve.map((v, t) => v - course.size * doneAt(t, course));
