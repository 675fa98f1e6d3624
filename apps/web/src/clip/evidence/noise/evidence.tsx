import type { Measurement, ValuesOf } from '@bevrin/contract';
import type { Curve } from '../Chart.js';
import type { DefectEvidence, EvidenceCurve } from '../evidence.js';

const points = (of: ValuesOf<'noise'>['curve']): Curve => ({
  x: of.map((p) => p.levelPct),
  y: of.map((p) => p.sigmaPct),
  points: true,
});

const curves = ({ readings: { noise } }: Measurement): readonly EvidenceCurve[] => {
  if (noise.state === 'notMeasurable') return [];
  const { curve, channelCurves = {}, fineShare, mediumShare, coarseShare } = noise.values;
  const againstLevel: EvidenceCurve = {
    title: 'Noise against signal level, luma and the other channels',
    xTitle: 'level of luma, % of range',
    yTitle: 'noise σ, %',
    curve: points(curve),
    also: Object.entries(channelCurves).map(([name, of]) => ({ ...points(of), name })),
    overTime: false,
    limitOf: 'lumaPct',
  };
  return [
    ...(curve.length > 0 ? [againstLevel] : []),
    {
      title: 'Power by size of the grain',
      xTitle: 'size, px (the last: 4 and more)',
      yTitle: 'share, %',
      curve: { x: [1, 2, 4], y: [fineShare, mediumShare, coarseShare].map((v) => 100 * v), bars: true },
      overTime: false,
    },
  ];
};

export const noise: DefectEvidence = { curves };
