import { seriesOf, type Defect, type Measurement } from '@bevrin/contract';
import type { EvidenceCurve } from './evidence.js';
import { overTime } from './over-time.js';
import { evidenceOf } from './registry.js';

const cache = new WeakMap<Measurement, Map<Defect, readonly EvidenceCurve[]>>();

/** The charts that belong to a reading. Worked out once for each measurement, so that a chart is only drawn when it changes. */
export const curvesOf = (defect: Defect, measurement: Measurement): readonly EvidenceCurve[] => {
  const known = cache.get(measurement) ?? new Map<Defect, readonly EvidenceCurve[]>();
  cache.set(measurement, known);
  const curves = known.get(defect) ?? drawn(defect, measurement);
  known.set(defect, curves);
  return curves;
};

const drawn = (defect: Defect, measurement: Measurement): readonly EvidenceCurve[] =>
  measurement.readings[defect].state === 'notMeasurable'
    ? []
    : (evidenceOf(defect).curves?.(measurement) ??
      seriesOf(measurement.readings, defect).map(({ label, unit, values }) =>
        overTime(measurement, label, unit ? `${label}, ${unit}` : label, values),
      ));
