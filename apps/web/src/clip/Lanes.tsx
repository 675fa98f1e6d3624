import { useRef, type PointerEvent } from 'react';
import { DEFECT_NAMES, DEFECTS, type Defect, type Finding, type Measurement } from '@bevrin/contract';
import { amount, timeText } from '../parts/format.js';
import { fillOf } from '../parts/severity.js';

/** Counts that a lane head has no room to name. */
const UNITLESS = new Set(['places', 'spots', 'a frame']);
const GUTTER = 168;
const LANE = 21;
const RULER = 20;
/** Drawn in this many units from the first to the last frame, whatever the width on the page. */
const UNITS = 1000;

interface Props {
  readonly measurement: Measurement | null;
  readonly findings: readonly Finding[];
  readonly frames: number;
  readonly rate: number;
  readonly frame: number;
  readonly onGo: (frame: number) => void;
  readonly selected: Defect;
  readonly onSelect: (defect: Defect) => void;
}

/** One shared ruler of time and a lane for each defect, like the paper of a chart recorder. */
export const Lanes = ({ measurement, findings, frames, rate, frame, onGo, selected, onSelect }: Props) => {
  const paper = useRef<HTMLDivElement>(null);
  const scrub = (e: PointerEvent): void => {
    const box = paper.current?.getBoundingClientRect();
    if (box && (e.buttons & 1 || e.type === 'pointerdown'))
      onGo(Math.floor(((e.clientX - box.left) / box.width) * frames));
  };
  const at = ((frame + 0.5) / frames) * 100;
  return (
    <section
      aria-label="Time"
      className="flex shrink-0 bg-sheet select-none"
      style={{ height: RULER + DEFECTS.length * LANE }}
    >
      <div
        role="group"
        aria-label="Defects"
        className="shrink-0 border-r border-ink"
        style={{ width: GUTTER, paddingTop: RULER }}
      >
        {DEFECTS.map((d) => (
          <LaneHead
            key={d}
            defect={d}
            finding={findings.find((f) => f.defect === d)}
            measured={measurement?.readings[d].state === 'measured'}
            current={d === selected}
            onSelect={onSelect}
          />
        ))}
      </div>
      <div
        ref={paper}
        onPointerDown={scrub}
        onPointerMove={scrub}
        className="relative min-w-0 flex-1 cursor-crosshair"
      >
        <Ruler frames={frames} rate={rate} shots={measurement?.shots.map((s) => s.startFrame) ?? []} />
        {DEFECTS.map((d, i) => (
          <div
            key={d}
            className={`absolute inset-x-0 border-t border-hair ${d === selected ? 'bg-slip' : ''}`}
            style={{ top: RULER + i * LANE, height: LANE }}
          >
            <Lane
              defect={d}
              measurement={measurement}
              finding={findings.find((f) => f.defect === d)}
              frames={frames}
            />
          </div>
        ))}
        <div
          className="pointer-events-none absolute inset-y-0 w-px bg-ink outline outline-[0.5px] outline-white"
          style={{ left: `${at}%` }}
        />
      </div>
    </section>
  );
};

const LaneHead = ({
  defect,
  finding,
  measured,
  current,
  onSelect,
}: {
  defect: Defect;
  finding: Finding | undefined;
  measured: boolean;
  current: boolean;
  onSelect: (d: Defect) => void;
}) => (
  <button
    aria-pressed={current}
    onClick={() => onSelect(defect)}
    className={`flex w-full items-center gap-2 border-t border-hair px-3 text-left text-sm ${current ? 'bg-ink text-white' : ''}`}
    style={{ height: LANE }}
  >
    <span className="flex-1 truncate">{DEFECT_NAMES[defect]}</span>
    <span className={current ? '' : 'text-soft'}>
      {finding?.value != null
        ? amount(finding.value, UNITLESS.has(finding.unit) ? '' : finding.unit)
        : measured
          ? 'measured'
          : '–'}
    </span>
  </button>
);

/** Steps between the figures of the ruler, in seconds. */
const STEPS = [0.2, 0.5, 1, 2, 5, 10, 30, 60, 120, 300, 600];
const MOST_FIGURES = 12;

const Ruler = ({ frames, rate, shots }: { frames: number; rate: number; shots: readonly number[] }) => {
  const seconds = frames / rate;
  const step = STEPS.find((s) => seconds / s <= MOST_FIGURES) ?? 1800;
  const figures = Array.from({ length: Math.floor(seconds / step) + 1 }, (_, i) => i * step);
  return (
    <div className="absolute inset-x-0 top-0 border-b border-ink" style={{ height: RULER }}>
      {figures.map((s) => (
        <span
          key={s}
          className="absolute top-0 h-full border-l border-rule pl-1 text-xs leading-5 text-soft"
          style={{ left: `${(s / seconds) * 100}%` }}
        >
          {(s / seconds) * 100 < 95 && timeText(Math.round(s * rate), rate)}
        </span>
      ))}
      {shots.slice(1).map((f) => (
        <span
          key={f}
          title={`cut at frame ${f}`}
          className="absolute bottom-0 h-2.5 border-l-2 border-ink"
          style={{ left: `${(f / frames) * 100}%` }}
        />
      ))}
    </div>
  );
};

const Lane = ({
  defect,
  measurement,
  finding,
  frames,
}: {
  defect: Defect;
  measurement: Measurement | null;
  finding: Finding | undefined;
  frames: number;
}) => {
  const reading = measurement?.readings[defect];
  if (!reading) return null;
  if (reading.state === 'notMeasurable')
    return (
      <p className="truncate px-2 text-xs leading-[21px] text-soft italic">not measured: {reading.reason}</p>
    );
  const series = laneOf(defect, reading.series as Record<string, (number | null)[]>);
  return (
    <svg
      viewBox={`0 0 ${UNITS} ${LANE}`}
      preserveAspectRatio="none"
      className="h-full w-full"
      role="img"
      aria-label={`${DEFECT_NAMES[defect]} over time`}
    >
      {series ? (
        <Curve series={series} span={spanOf(series, LANE_SPANS[defect] ?? finding?.fail)} />
      ) : (
        finding && finding.value !== null && <Steady finding={finding} frames={frames} />
      )}
    </svg>
  );
};

/** What a lane's pen draws: what swings about nothing; softness is drawn as what is missing of the detail. */
const laneOf = (defect: Defect, series: Record<string, (number | null)[]>): (number | null)[] | undefined =>
  defect === 'softness'
    ? series.detailPct?.map((v) => (v === null ? null : Math.min(0, v - 100)))
    : Object.values(series)[0];

/** What one looks for in a lane has about this size; smaller things stay small. */
const LANE_SPANS: Partial<Record<Defect, number>> = { shake: 4, rollingShutter: 4, softness: 60 };

/** A lane is never stretched so far that what passes looks like something. */
const spanOf = (series: readonly (number | null)[], least = 1): number =>
  Math.max(least, ...series.map((v) => Math.abs(v ?? 0)));

/** The trace of a recorder's pen, about its own middle line. */
const Curve = ({ series, span }: { series: readonly (number | null)[]; span: number }) => {
  const points: string[] = [];
  let pen = 'M';
  series.forEach((v, f) => {
    if (v === null) {
      pen = 'M';
      return;
    }
    points.push(
      `${pen}${(((f + 0.5) / series.length) * UNITS).toFixed(1)} ${(LANE / 2 - (v / span) * (LANE / 2 - 2)).toFixed(2)}`,
    );
    pen = 'L';
  });
  return (
    <>
      <line
        x1={0}
        x2={UNITS}
        y1={LANE / 2}
        y2={LANE / 2}
        stroke="#9b9b9b"
        strokeWidth={1}
        vectorEffect="non-scaling-stroke"
        strokeDasharray="2 4"
      />
      <path
        d={points.join('')}
        fill="none"
        stroke="#141414"
        strokeWidth={1.2}
        vectorEffect="non-scaling-stroke"
      />
    </>
  );
};

/** What is there all the time: a bar as tall as its severity. */
const Steady = ({ finding, frames }: { finding: Finding; frames: number }) => {
  const tall = Math.max(1, (finding.severity / 100) * (LANE - 4));
  const x = (finding.startFrame / frames) * UNITS;
  const width = ((finding.endFrame - finding.startFrame + 1) / frames) * UNITS;
  return (
    <rect
      x={x}
      width={width}
      y={LANE - 1 - tall}
      height={tall}
      fill={fillOf(finding)}
      stroke="#141414"
      strokeWidth={0.5}
      vectorEffect="non-scaling-stroke"
    />
  );
};
