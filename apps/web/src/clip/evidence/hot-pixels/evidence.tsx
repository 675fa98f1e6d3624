import { Label } from '../../picture/Label.js';
import { Outline } from '../../picture/Outline.js';
import type { DefectEvidence, MarksProps, TablesProps } from '../evidence.js';
import { markedPlaces, type Place } from './places.js';
import { PlaceTable } from './PlaceTable.js';

const Marks = ({ measurement, frame, chosen }: MarksProps) =>
  markedPlaces(measurement)
    .filter((p) => p.frame === null || p.frame === frame)
    .map((p) => <Numbered key={p.number} place={p} chosen={p.number === chosen} />);

const Numbered = ({ place: { number, x, y, radiusPx }, chosen }: { place: Place; chosen: boolean }) => (
  <g>
    <Outline>
      {(s) => (
        <circle
          cx={x + 0.5}
          cy={y + 0.5}
          style={{ r: `max(${radiusPx}px, calc(${chosen ? 13 : 9}px * var(--px)))` }}
          {...s}
        />
      )}
    </Outline>
    <g style={{ transform: `translate(calc(${x}px + 11px * var(--px)), calc(${y}px - 7px * var(--px)))` }}>
      <Label x={0} y={0}>
        {String(number)}
      </Label>
    </g>
  </g>
);

const Tables = ({ clip, chosenPlace, onPlace }: TablesProps) => (
  <PlaceTable measurement={clip.measurement} chosen={chosenPlace} onChoose={onPlace} />
);

export const hotPixels: DefectEvidence = { Marks, Tables };
