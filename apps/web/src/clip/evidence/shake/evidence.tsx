import type { Measurement } from '@bevrin/contract';
import { Label } from '../../picture/Label.js';
import { Outline } from '../../picture/Outline.js';
import { overTime, secondsOf } from '../over-time.js';
import type { DefectEvidence, EvidenceCurve, MarksProps } from '../evidence.js';

/** Longer than this on the screen for one pixel of movement. */
const ARROW = 6;

const Marks = ({ measurement, facts: { width, height }, tiles }: MarksProps) => {
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

const curves = (measurement: Measurement): readonly EvidenceCurve[] => {
  const { shake } = measurement.readings;
  if (shake.state === 'notMeasurable') return [];
  const { jitterX, jitterY, intendedX, intendedY } = shake.series;
  const path = (title: string, jitter: typeof jitterX, intended: typeof jitterX): EvidenceCurve => ({
    title,
    xTitle: 'time, s',
    yTitle: 'picture centre, px',
    curve: {
      x: secondsOf(measurement, jitter),
      y: jitter.map((v, f) => (v === null || intended[f] === null ? null : v + (intended[f] ?? 0))),
    },
    also: [{ x: secondsOf(measurement, jitter), y: intended, name: 'intended' }],
    overTime: true,
  });
  const { spectrum, dominantHz } = shake.values;
  return [
    path('Path, and the intended one: sideways', jitterX, intendedX),
    path('Path, and the intended one: up and down', jitterY, intendedY),
    overTime(measurement, 'Sideways, about the intended path', 'picture centre, px', jitterX),
    overTime(measurement, 'Up and down, about the intended path', 'picture centre, px', jitterY),
    {
      title: 'Spectrum of both directions',
      xTitle: 'frequency, Hz',
      yTitle: 'amplitude, px',
      curve: { x: spectrum.map((p) => p.frequencyHz), y: spectrum.map((p) => p.amplitudePx) },
      marks: dominantHz === null ? [] : [{ at: dominantHz, name: `${dominantHz.toFixed(1)} Hz` }],
      overTime: false,
    },
  ];
};

export const shake: DefectEvidence = { Marks, curves, asks: 'tiles' };
