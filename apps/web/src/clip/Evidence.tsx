import { useMemo } from 'react';
import { DEFECT_NAMES, type Defect, type Finding, type Measurement } from '@bevrin/contract';
import { frameRateOf } from '../parts/format.js';
import { Chart } from './Chart.js';
import { curvesOf, type EvidenceCurve } from './curves.js';
import { figuresOf } from './figures.js';

interface Props {
  readonly defect: Defect;
  readonly measurement: Measurement;
  readonly findings: readonly Finding[];
  readonly frame: number;
}

/** All that was read about one defect, and what makes it believable. */
export const Evidence = ({ defect, measurement, findings, frame }: Props) => {
  const reading = measurement.readings[defect];
  if (reading.state === 'notMeasurable')
    return (
      <p className="py-2">
        {DEFECT_NAMES[defect]} was not measured: {reading.reason}
      </p>
    );
  return (
    <div>
      {findings.map((f) => (
        <p key={f.reading} className="pt-1 pb-1">
          {f.because}
        </p>
      ))}
      <dl className="columns-2 gap-x-5 border-t border-hair text-sm">
        {figuresOf(defect, measurement).map(([name, value]) => (
          <div
            key={name}
            className="flex break-inside-avoid items-baseline justify-between gap-2 border-b border-hair py-0.5"
          >
            <dt className="text-soft">{name}</dt>
            <dd className="text-right">{value}</dd>
          </div>
        ))}
      </dl>
      <Curves defect={defect} measurement={measurement} finding={findings[0]} frame={frame} />
    </div>
  );
};

interface CurvesProps {
  readonly defect: Defect;
  readonly measurement: Measurement;
  readonly finding: Finding | undefined;
  readonly frame: number;
}

const Curves = ({ defect, measurement, finding, frame }: CurvesProps) => {
  switch (defect) {
    case 'noise':
      return <NoiseCurve measurement={measurement} finding={finding} />;
    case 'flicker':
      return <LightCurves measurement={measurement} frame={frame} />;
    default:
      return <Drawn curves={curvesOf(defect, measurement)} here={frame / frameRateOf(measurement.clip)} />;
  }
};

/** Curves over time carry a mark where one is. */
const Drawn = ({ curves, here }: { curves: readonly EvidenceCurve[]; here: number }) =>
  curves.map(({ overTime, ...curve }) => (
    <Chart key={curve.title} {...curve} here={overTime ? here : undefined} />
  ));

const NoiseCurve = ({ measurement, finding }: { measurement: Measurement; finding: Finding | undefined }) => {
  const { noise } = measurement.readings;
  const curve = useMemo(() => {
    const points = noise.state === 'measured' ? noise.values.curve : [];
    return { x: points.map((p) => p.levelPct), y: points.map((p) => p.sigmaPct), points: true };
  }, [noise]);
  const limit = useMemo(
    () => (finding?.reading === 'lumaPct' ? { at: finding.pass, name: 'pass limit' } : undefined),
    [finding],
  );
  if (curve.x.length === 0) return null;
  return (
    <Chart
      title="Noise against signal level"
      xTitle="signal level, % of range"
      yTitle="luma noise σ, %"
      curve={curve}
      limit={limit}
    />
  );
};

const LightCurves = ({ measurement, frame }: { measurement: Measurement; frame: number }) => {
  const { flicker } = measurement.readings;
  const rate = frameRateOf(measurement.clip);
  const light = useMemo(() => {
    const series = flicker.state === 'measured' ? flicker.series.lightPct : [];
    return { x: series.map((_, f) => f / rate), y: series };
  }, [flicker, rate]);
  const spectrum = useMemo(() => {
    const points = flicker.state === 'measured' ? flicker.values.spectrum : [];
    return { x: points.map((p) => p.frequencyHz), y: points.map((p) => p.amplitudePct) };
  }, [flicker]);
  const bars = flicker.state === 'measured' && flicker.values.pattern === 'rolling-bars';
  if (light.x.length === 0) return null;
  return (
    <>
      <Chart
        title={`Light of ${bars ? 'the middle row band' : 'the whole frame'} about its slow course`}
        xTitle="time, s"
        yTitle="light, %"
        curve={light}
        here={frame / rate}
      />
      <Chart
        title="Spectrum over all row bands"
        xTitle="frequency, Hz"
        yTitle="amplitude, %"
        curve={spectrum}
      />
    </>
  );
};
