import { expect } from 'chai';
import { coursesOf, withoutRamp } from './course.js';
import { exposureChangesIn } from './exposure.js';

const RATE = 25;
/** Log light of frames, with a trace of what is never followed exactly. */
const curve = (light: (frame: number) => number, frames: number): Float64Array =>
  Float64Array.from({ length: frames }, (_, f) => Math.log(light(f)) + 0.001 * Math.sin(f * 7));

describe('changes of the exposure that take most of a shot', () => {
  it('are followed as they go, evenly in light or in stops', () => {
    const done = (f: number): number => Math.min(1, Math.max(0, (f - 8) / 44));
    const courses = {
      light: (f: number) => 1 + 0.45 * done(f),
      stops: (f: number) => 0.6 ** done(f),
    };
    for (const [evenIn, light] of Object.entries(courses)) {
      const all = curve(light, 60);
      const [course] = coursesOf(all, exposureChangesIn(all, RATE));
      expect(course).to.include({ evenIn, frame: 9, frames: 44 });
      expect(Math.exp(course.size)).to.be.closeTo(light(59), 0.01);
      const flat = withoutRamp(all, course);
      expect(Math.max(...flat) - Math.min(...flat), evenIn).to.be.lessThan(0.012);
    }
  });

  it('are followed each by itself where there are two', () => {
    const done = (f: number, from: number, length: number): number =>
      Math.min(1, Math.max(0, (f - from) / length));
    const all = curve((f) => (1 + 0.5 * done(f, 9, 20)) * 0.7 ** done(f, 41, 22), 75);
    const changes = exposureChangesIn(all, RATE);
    expect(changes).to.have.length(2);
    const flat = coursesOf(all, changes).reduce(withoutRamp, all);
    expect(Math.max(...flat) - Math.min(...flat)).to.be.lessThan(0.015);
  });
});
