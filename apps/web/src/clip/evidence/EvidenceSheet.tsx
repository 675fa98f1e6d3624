import { useMemo, useState } from 'react';
import {
  DEFECT_NAMES,
  figuresOf,
  type ClipDetail,
  type Defect,
  type Finding,
  type Measurement,
  type Region,
} from '@bevrin/contract';
import { findingName } from '../../parts/names.js';
import { frameRateOf } from '../../parts/format.js';
import { Reason } from '../../parts/Reason.js';
import { Take } from '../../parts/Take.js';
import type { Overruling } from '../overrule/useOverrule.js';
import { Chart } from './Chart.js';
import { curvesOf } from './curves.js';
import type { Place } from './hot-pixels/places.js';
import { evidenceOf } from './registry.js';

interface Props {
  readonly clip: ClipDetail & { measurement: Measurement };
  readonly defect: Defect;
  readonly frame: number;
  readonly chosenPlace: number | null;
  readonly overruling: Overruling;
  /** Findings that the technician set aside as no defects, as `defect reading`. */
  readonly disputed: ReadonlySet<string>;
  readonly onGo: (frame: number) => void;
  readonly onPlace: (place: Place) => void;
  /** Goes to an edge, and lays a line across it. */
  readonly onEdge: (region: Region) => void;
}

/** All that was read about one defect, and what makes it believable. */
export const EvidenceSheet = ({
  clip,
  defect,
  frame,
  chosenPlace,
  overruling,
  disputed,
  onGo,
  onPlace,
  onEdge,
}: Props) => {
  const { measurement, judgement } = clip;
  const reading = measurement.readings[defect];
  const findings = judgement?.findings.filter((f) => f.defect === defect) ?? [];
  const { Tables } = evidenceOf(defect);
  if (reading.state === 'notMeasurable')
    return (
      <p className="py-2">
        {DEFECT_NAMES[defect]} was not measured: {reading.reason}
      </p>
    );
  return (
    <div className="text-sm">
      {findings.map((f) => (
        <Because
          key={f.reading}
          finding={f}
          disputed={disputed.has(`${f.defect} ${f.reading}`)}
          overruling={overruling}
        />
      ))}
      <Figures clip={clip} defect={defect} />
      {Tables && <Tables {...{ clip, frame, chosenPlace, onGo, onPlace, onEdge }} />}
      <Curves defect={defect} measurement={measurement} findings={findings} frame={frame} onGo={onGo} />
    </div>
  );
};

const Because = ({
  finding,
  disputed,
  overruling: { decide },
}: {
  finding: Finding;
  disputed: boolean;
  overruling: Overruling;
}) => {
  const [asking, setAsking] = useState(false);
  const give = async (reason: string): Promise<void> => {
    const { defect, reading } = finding;
    if (await decide({ kind: 'notDefect', defect, reading, reason })) setAsking(false);
  };
  return (
    <div className="border-b border-hair py-1">
      <p className="text-base">{finding.because}</p>
      {disputed ? (
        <p className="font-semibold">Decided: not a defect.</p>
      ) : asking ? (
        <Reason
          label={`Why ${findingName(finding).toLowerCase()} is not a defect`}
          placeholder="why it is not a defect"
          action="Decide"
          onGive={(reason) => void give(reason)}
          onLeave={() => setAsking(false)}
        />
      ) : (
        finding.verdict !== 'pass' && <Take onClick={() => setAsking(true)}>Not a defect</Take>
      )}
    </div>
  );
};

/** The figures of the reading; where a technician overruled it, what the machine said on its own stands beside. */
const Figures = ({ clip: { measurement, machine }, defect }: Pick<Props, 'clip' | 'defect'>) => {
  const before = machine ? new Map(figuresOf(machine.readings, defect)) : null;
  return (
    <dl className="columns-2 gap-x-5">
      {figuresOf(measurement.readings, defect).map(([name, value]) => {
        const said = before?.get(name);
        return (
          <div
            key={name}
            className="flex break-inside-avoid items-baseline justify-between gap-2 border-b border-hair py-0.5"
          >
            <dt className="text-soft">{name}</dt>
            <dd className="text-right">
              {value}
              {said !== undefined && said !== value && (
                <span className="block text-xs text-soft">machine: {said}</span>
              )}
            </dd>
          </div>
        );
      })}
    </dl>
  );
};

interface CurvesProps {
  readonly defect: Defect;
  readonly measurement: Measurement;
  readonly findings: readonly Finding[];
  readonly frame: number;
  readonly onGo: (frame: number) => void;
}

/** Curves over time carry a mark where one is, and take one where one clicks. */
const Curves = ({ defect, measurement, findings, frame, onGo }: CurvesProps) => {
  const rate = frameRateOf(measurement.clip);
  const limits = useMemo(
    () => new Map(findings.map((f) => [f.reading, { at: f.pass, name: 'pass limit' }])),
    [findings],
  );
  return curvesOf(defect, measurement).map(({ overTime, limitOf, ...curve }) => (
    <Chart
      key={curve.title}
      {...curve}
      limit={limitOf === undefined ? undefined : limits.get(limitOf)}
      here={overTime ? frame / rate : undefined}
      onPick={overTime ? (seconds) => onGo(Math.round(seconds * rate)) : undefined}
    />
  ));
};
