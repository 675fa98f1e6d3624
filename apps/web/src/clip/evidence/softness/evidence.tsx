import type { Measurement, Region } from '@bevrin/contract';
import { frameRateOf } from '../../../parts/format.js';
import { Take } from '../../../parts/Take.js';
import { overTime } from '../over-time.js';
import type { DefectEvidence, EvidenceCurve, MarksProps, TablesProps } from '../evidence.js';
import { Regions } from '../Regions.js';
import { SoftTable } from './SoftTable.js';

/** More edges with their words than this would lie over one another, */
const MOST_LABELS = 12;
/** and so would more names on a chart. */
const MOST_MARKS = 12;

const Marks = ({ regions }: MarksProps) => (
  <Regions regions={regions} label={(r) => `σ ${r.strength.toFixed(1)} px`} few={MOST_LABELS} />
);

/** Where the picture is sharpest, by the measure. */
const sharpestOf = (regions: readonly Region[]): Region =>
  regions.reduce((best, r) => (r.strength < best.strength ? r : best));

const Tables = ({ clip: { measurement }, onGo, onEdge }: TablesProps) => {
  const { regions } = measurement.readings.softness;
  return (
    <>
      {regions.length > 0 && (
        <Take onClick={() => onEdge(sharpestOf(regions))}>Look at the sharpest edge</Take>
      )}
      <SoftTable measurement={measurement} onGo={onGo} />
    </>
  );
};

const curves = (measurement: Measurement): readonly EvidenceCurve[] => {
  const { softness } = measurement.readings;
  if (softness.state === 'notMeasurable') return [];
  const rate = frameRateOf(measurement.clip);
  return [
    {
      ...overTime(
        measurement,
        'Fine detail against the frames about it',
        'detail, %',
        softness.series.detailPct,
      ),
      marks: softness.values.softFrames.slice(0, MOST_MARKS).map((r, i) => ({
        at: (r.startFrame + r.endFrame) / 2 / rate,
        name: i === 0 ? 'soft' : '',
      })),
    },
  ];
};

export const softness: DefectEvidence = { Marks, Tables, curves };
