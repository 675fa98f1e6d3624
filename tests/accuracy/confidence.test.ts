import { expect } from 'chai';
import { confidencePlot, courseOf } from '../../scripts/setup/confidence-plot.js';

describe('the plot of error over confidence', () => {
  const readings = Array.from({ length: 60 }, (_, i) => ({ confidence: ((i * 37) % 60) / 60, error: 0 })).map(
    (r) => ({ ...r, error: 1 - r.confidence }),
  );

  it('follows the median error from the least sure reading to the surest', () => {
    const course = courseOf(readings);
    expect(course).to.have.length(40);
    for (let i = 1; i < course.length; i++) {
      expect(course[i].confidence).to.be.greaterThan(course[i - 1].confidence);
      expect(course[i].error).to.be.lessThan(course[i - 1].error);
    }
  });

  it('draws a dot for each reading, and those far off at the top', () => {
    const drawn = confidencePlot([...readings, { confidence: 0.5, error: 40 }], 'Error over confidence');
    expect(drawn.match(/<circle/g)).to.have.length(61);
    for (const [, y] of drawn.matchAll(/cy="([\d.]+)"/g)) expect(Number(y)).to.be.within(16, 276);
    expect(drawn).to.include('first bar').and.to.include('confidence that the reading states');
  });

  it('draws no line through too few readings', () => {
    expect(courseOf(readings.slice(0, 5))).to.deep.equal([]);
    expect(confidencePlot([], 'nothing')).to.include('</svg>');
  });
});
