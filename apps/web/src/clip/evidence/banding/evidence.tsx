import type { Measurement } from '@bevrin/contract';
import type { DefectEvidence, EvidenceCurve } from '../evidence.js';

const curves = ({ clip, readings: { banding } }: Measurement): readonly EvidenceCurve[] => {
  if (banding.state === 'notMeasurable') return [];
  const { firstCode, counts } = banding.values.histogram;
  return [
    {
      title: 'Codes of luma that were seen',
      xTitle: `code, ${clip.bitDepth} bit`,
      yTitle: 'pixels',
      curve: { x: counts.map((_, i) => firstCode + i), y: counts },
      overTime: false,
    },
  ];
};

export const banding: DefectEvidence = { curves, asks: 'contours' };
