import type { Measurement } from '@bevrin/contract';
import { frameRateOf } from '../../../parts/format.js';
import { overTime } from '../over-time.js';
import type { DefectEvidence, EvidenceCurve, TablesProps } from '../evidence.js';
import { RowsImage } from './RowsImage.js';

const curves = (measurement: Measurement): readonly EvidenceCurve[] => {
  const { flicker } = measurement.readings;
  if (flicker.state === 'notMeasurable') return [];
  const { pattern, spectrum, lampHz } = flicker.values;
  const of = pattern === 'rolling-bars' ? 'the middle row band' : 'the whole frame';
  return [
    overTime(measurement, `Light of ${of} about its slow course`, 'light, %', flicker.series.lightPct),
    {
      title: 'Spectrum over all row bands',
      xTitle: 'frequency, Hz',
      yTitle: 'amplitude, %',
      curve: { x: spectrum.map((p) => p.frequencyHz), y: spectrum.map((p) => p.amplitudePct) },
      marks: lampHz.map((l) => ({ at: l.aliasHz, name: `${l.lightHz} Hz light` })),
      overTime: false,
    },
  ];
};

const Tables = ({ clip: { measurement }, frame, onGo }: TablesProps) => {
  const { flicker } = measurement.readings;
  const rows = flicker.state === 'measured' ? flicker.values.rows : undefined;
  if (!rows) return null;
  return <RowsImage rows={rows} rate={frameRateOf(measurement.clip)} frame={frame} onGo={onGo} />;
};

export const flicker: DefectEvidence = { curves, Tables };
