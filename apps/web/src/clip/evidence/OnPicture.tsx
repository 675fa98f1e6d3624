import type { ClipFacts, Defect, Measurement, Region } from '@bevrin/contract';
import type { SeenTile } from '@bevrin/core/spot';
import { Label } from '../picture/Label.js';
import { Outline } from '../picture/Outline.js';
import { markedPlaces, type Place } from './places.js';

interface Props {
  readonly defect: Defect;
  readonly measurement: Measurement;
  readonly facts: ClipFacts;
  readonly frame: number;
  readonly tiles: readonly SeenTile[] | null;
  /** Number of the place that was chosen in the table. */
  readonly chosen: number | null;
}

/** What was measured about one defect, laid over the picture at this frame. In clip pixels. */
export const OnPicture = ({ defect, measurement, facts, frame, tiles, chosen }: Props) => {
  const reading = measurement.readings[defect];
  if (reading.state === 'notMeasurable') return null;
  const regions = reading.regions.filter((r) => r.startFrame <= frame && frame <= r.endFrame);
  switch (defect) {
    case 'hotPixels':
      return markedPlaces(measurement)
        .filter((p) => p.frame === null || p.frame === frame)
        .map((p) => <Numbered key={p.number} place={p} chosen={p.number === chosen} />);
    case 'shake':
      return <Shake measurement={measurement} facts={facts} tiles={tiles} />;
    case 'rollingShutter':
      return <PlumbLine measurement={measurement} facts={facts} frame={frame} />;
    case 'softness':
      return <Regions regions={regions} label={(r) => `σ ${r.strength.toFixed(1)} px`} few={12} />;
    case 'moire':
      return <Patterns measurement={measurement} frame={frame} />;
    default:
      return <Regions regions={regions} />;
  }
};

const Regions = ({
  regions,
  label,
  few = 0,
}: {
  regions: readonly Region[];
  label?: (r: Region) => string;
  /** So many carry their words. */
  few?: number;
}) =>
  regions.map((r, i) => (
    <g key={i}>
      <Outline>{(s) => <rect x={r.x} y={r.y} width={r.width} height={r.height} {...s} />}</Outline>
      {label && i < few && (
        <g
          style={{
            transform: `translate(calc(${r.x}px + 5px * var(--px)), calc(${r.y}px + 15px * var(--px)))`,
          }}
        >
          <Label x={0} y={0}>
            {label(r)}
          </Label>
        </g>
      )}
    </g>
  ));

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

/** Longer than this on the screen for one pixel of movement. */
const ARROW = 6;

const Shake = ({
  measurement,
  facts: { width, height },
  tiles,
}: Pick<Props, 'measurement' | 'facts' | 'tiles'>) => {
  const { shake } = measurement.readings;
  if (shake.state === 'notMeasurable') return null;
  const inset = shake.values.cropPct / 200;
  return (
    <>
      <Outline dashed>
        {(s) => (
          <rect
            x={width * inset}
            y={height * inset}
            width={width * (1 - 2 * inset)}
            height={height * (1 - 2 * inset)}
            {...s}
          />
        )}
      </Outline>
      <Label x={width * inset} y={height * (1 - inset)}>
        {`left after full correction: ${(100 - shake.values.cropPct).toFixed(1)} %`}
      </Label>
      {tiles?.map((t, i) => (
        <g key={i}>
          <Outline>
            {(s) => <line x1={t.x} y1={t.y} x2={t.x + ARROW * t.dx} y2={t.y + ARROW * t.dy} {...s} />}
          </Outline>
          {/* Round where it goes with the camera, square where it goes its own way. */}
          {t.follows ? (
            <circle
              cx={t.x}
              cy={t.y}
              style={{ r: 'calc(2.5px * var(--px))' }}
              fill="#f4f4f4"
              stroke="#141414"
              vectorEffect="non-scaling-stroke"
            />
          ) : (
            <rect
              style={{
                x: `calc(${t.x}px - 4px * var(--px))`,
                y: `calc(${t.y}px - 4px * var(--px))`,
                width: 'calc(8px * var(--px))',
                height: 'calc(8px * var(--px))',
              }}
              fill="#141414"
              stroke="#f4f4f4"
              vectorEffect="non-scaling-stroke"
            />
          )}
        </g>
      ))}
    </>
  );
};

/** How an upright leans at this frame, because its foot was read later than its head. */
const PlumbLine = ({
  measurement,
  facts: { width, height },
  frame,
}: Pick<Props, 'measurement' | 'facts' | 'frame'>) => {
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

const Patterns = ({ measurement, frame }: Pick<Props, 'measurement' | 'frame'>) => {
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
