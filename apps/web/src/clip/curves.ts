import type { Defect, Measurement } from '@bevrin/contract';
import { frameRateOf } from '../parts/format.js';
import type { Curve } from './Chart.js';

/** One chart of evidence: its words and its points. */
export interface EvidenceCurve {
  readonly title: string;
  readonly xTitle: string;
  readonly yTitle: string;
  readonly curve: Curve;
  readonly overTime: boolean;
}

const cache = new WeakMap<Measurement, Map<Defect, readonly EvidenceCurve[]>>();

/** The charts that belong to a reading. Worked out once for each measurement, so that a chart is only drawn when it changes. */
export const curvesOf = (defect: Defect, measurement: Measurement): readonly EvidenceCurve[] => {
  const known = cache.get(measurement) ?? new Map<Defect, readonly EvidenceCurve[]>();
  cache.set(measurement, known);
  const curves = known.get(defect) ?? drawn(defect, measurement);
  known.set(defect, curves);
  return curves;
};

const drawn = (defect: Defect, { clip, readings }: Measurement): readonly EvidenceCurve[] => {
  const rate = frameRateOf(clip);
  const overTime = (title: string, yTitle: string, series: readonly (number | null)[]): EvidenceCurve => ({
    title,
    xTitle: 'time, s',
    yTitle,
    curve: { x: series.map((_, f) => f / rate), y: series },
    overTime: true,
  });
  const { shake, rollingShutter, banding, softness } = readings;
  if (defect === 'shake' && shake.state === 'measured')
    return [
      overTime('Sideways, about the intended path', 'picture centre, px', shake.series.jitterX),
      overTime('Up and down, about the intended path', 'picture centre, px', shake.series.jitterY),
      {
        title: 'Spectrum of both directions',
        xTitle: 'frequency, Hz',
        yTitle: 'amplitude, px',
        curve: {
          x: shake.values.spectrum.map((p) => p.frequencyHz),
          y: shake.values.spectrum.map((p) => p.amplitudePx),
        },
        overTime: false,
      },
    ];
  if (defect === 'rollingShutter' && rollingShutter.state === 'measured')
    return [
      overTime('Last row against the first', 'to the right, px', rollingShutter.series.leanPx),
      {
        title: 'How well each read-out explains the rows',
        xTitle: 'read-out, share of the frame interval',
        yTitle: 'left unexplained, px',
        curve: {
          x: rollingShutter.values.candidates.map((c) => c.readoutFraction),
          y: rollingShutter.values.candidates.map((c) => c.residualPx),
          points: true,
        },
        overTime: false,
      },
    ];
  if (defect === 'banding' && banding.state === 'measured')
    return [
      {
        title: 'Codes of luma that were seen',
        xTitle: `code, ${clip.bitDepth} bit`,
        yTitle: 'pixels',
        curve: {
          x: banding.values.histogram.counts.map((_, i) => banding.values.histogram.firstCode + i),
          y: banding.values.histogram.counts,
        },
        overTime: false,
      },
    ];
  if (defect === 'softness' && softness.state === 'measured')
    return [overTime('Fine detail against the frames about it', 'detail, %', softness.series.detailPct)];
  return [];
};
