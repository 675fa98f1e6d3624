import type { Measurement } from '@bevrin/contract';
import { Label } from '../../picture/Label.js';
import { Outline } from '../../picture/Outline.js';
import { overTime } from '../over-time.js';
import type { DefectEvidence, EvidenceCurve, MarksProps } from '../evidence.js';

/** How an upright leans at this frame, because its foot was read later than its head. */
const Marks = ({ measurement, facts: { width, height }, frame }: MarksProps) => {
  const { rollingShutter } = measurement.readings;
  const lean = rollingShutter.state === 'measured' ? rollingShutter.series.leanPx[frame] : null;
  if (lean === null || lean === undefined) return null;
  const x = width / 2;
  const degrees = (Math.atan2(lean, height) * 180) / Math.PI;
  return (
    <>
      <Outline dashed>{(s) => <line x1={x} y1={0} x2={x} y2={height} {...s} />}</Outline>
      <Outline>{(s) => <line x1={x - lean / 2} y1={0} x2={x + lean / 2} y2={height} {...s} />}</Outline>
      <Label x={x + Math.abs(lean) / 2 + width / 200} y={height / 2}>
        {`leans ${lean.toFixed(1)} px, ${degrees.toFixed(2)}°`}
      </Label>
    </>
  );
};

const curves = (measurement: Measurement): readonly EvidenceCurve[] => {
  const { rollingShutter } = measurement.readings;
  if (rollingShutter.state === 'notMeasurable') return [];
  const { candidates } = rollingShutter.values;
  return [
    overTime(measurement, 'Last row against the first', 'to the right, px', rollingShutter.series.leanPx),
    {
      title: 'How well each read-out explains the rows',
      xTitle: 'read-out, share of the frame interval',
      yTitle: 'left unexplained, px',
      curve: {
        x: candidates.map((c) => c.readoutFraction),
        y: candidates.map((c) => c.residualPx),
        points: true,
      },
      overTime: false,
    },
  ];
};

export const rollingShutter: DefectEvidence = { Marks, curves };
