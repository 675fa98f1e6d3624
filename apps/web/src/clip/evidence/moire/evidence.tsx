import { Label } from '../../picture/Label.js';
import { Outline } from '../../picture/Outline.js';
import type { DefectEvidence, MarksProps } from '../evidence.js';
import { PatternTable } from './PatternTable.js';

const Marks = ({ measurement, frame }: MarksProps) => {
  const { moire } = measurement.readings;
  if (moire.state === 'notMeasurable') return null;
  return moire.values.patterns
    .filter((p) => p.startFrame <= frame && frame <= p.endFrame)
    .map((p, i) => (
      <g key={i}>
        <Outline>{(s) => <rect x={p.x} y={p.y} width={p.width} height={p.height} {...s} />}</Outline>
        {i < 6 && (
          <Label x={p.x} y={p.y}>
            {`${i + 1}: ${p.kind}, period ${p.periodPx.toFixed(1)} px`}
          </Label>
        )}
      </g>
    ));
};

export const moire: DefectEvidence = { Marks, Tables: PatternTable };
