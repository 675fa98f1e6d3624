import type { Defect, Measurement } from '@bevrin/contract';
import { frameRateOf } from '../../parts/format.js';
import type { ChartProps, Curve } from './Chart.js';

/** One chart of evidence: its words and its points, and whether they lie in time. */
export type EvidenceCurve = Pick<ChartProps, 'title' | 'xTitle' | 'yTitle' | 'curve' | 'also' | 'marks'> & {
  readonly overTime: boolean;
};

/** More names than this on a chart would lie over one another. */
const MOST_MARKS = 12;

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
  const time = (series: readonly unknown[]): number[] => series.map((_, f) => f / rate);
  const overTime = (title: string, yTitle: string, series: readonly (number | null)[]): EvidenceCurve => ({
    title,
    xTitle: 'time, s',
    yTitle,
    curve: { x: time(series), y: series },
    overTime: true,
  });
  const { shake, noise, flicker, rollingShutter, banding, softness } = readings;
  if (defect === 'noise' && noise.state === 'measured') {
    const { curve, channelCurves = {}, fineShare, mediumShare, coarseShare } = noise.values;
    const points = (of: typeof curve): Curve => ({
      x: of.map((p) => p.levelPct),
      y: of.map((p) => p.sigmaPct),
      points: true,
    });
    return [
      ...(curve.length > 0
        ? [
            {
              title: 'Noise against signal level, luma and the other channels',
              xTitle: 'level of luma, % of range',
              yTitle: 'noise σ, %',
              curve: points(curve),
              also: Object.entries(channelCurves).map(([name, of]) => ({ ...points(of), name })),
              overTime: false,
            },
          ]
        : []),
      {
        title: 'Power by size of the grain',
        xTitle: 'size, px (the last: 4 and more)',
        yTitle: 'share, %',
        curve: { x: [1, 2, 4], y: [fineShare, mediumShare, coarseShare].map((v) => 100 * v), bars: true },
        overTime: false,
      },
    ];
  }
  if (defect === 'flicker' && flicker.state === 'measured') {
    const bars = flicker.values.pattern === 'rolling-bars';
    return [
      overTime(
        `Light of ${bars ? 'the middle row band' : 'the whole frame'} about its slow course`,
        'light, %',
        flicker.series.lightPct,
      ),
      {
        title: 'Spectrum over all row bands',
        xTitle: 'frequency, Hz',
        yTitle: 'amplitude, %',
        curve: {
          x: flicker.values.spectrum.map((p) => p.frequencyHz),
          y: flicker.values.spectrum.map((p) => p.amplitudePct),
        },
        marks: flicker.values.lampHz.map((l) => ({ at: l.aliasHz, name: `${l.lightHz} Hz light` })),
        overTime: false,
      },
    ];
  }
  if (defect === 'shake' && shake.state === 'measured') {
    const { jitterX, jitterY, intendedX, intendedY } = shake.series;
    const path = (title: string, jitter: typeof jitterX, intended: typeof jitterX): EvidenceCurve => ({
      title,
      xTitle: 'time, s',
      yTitle: 'picture centre, px',
      curve: {
        x: time(jitter),
        y: jitter.map((v, f) => (v === null || intended[f] === null ? null : v + (intended[f] ?? 0))),
      },
      also: [{ x: time(jitter), y: intended, name: 'intended' }],
      overTime: true,
    });
    return [
      path('Path, and the intended one: sideways', jitterX, intendedX),
      path('Path, and the intended one: up and down', jitterY, intendedY),
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
        marks:
          shake.values.dominantHz === null
            ? []
            : [{ at: shake.values.dominantHz, name: `${shake.values.dominantHz.toFixed(1)} Hz` }],
        overTime: false,
      },
    ];
  }
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
    return [
      {
        ...overTime('Fine detail against the frames about it', 'detail, %', softness.series.detailPct),
        marks: softness.values.softFrames.slice(0, MOST_MARKS).map((r, i) => ({
          at: (r.startFrame + r.endFrame) / 2 / rate,
          name: i === 0 ? 'soft' : '',
        })),
      },
    ];
  return [];
};
