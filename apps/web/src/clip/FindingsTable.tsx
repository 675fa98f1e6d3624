import {
  asWords,
  DEFECT_NAMES,
  DEFECTS,
  passedUnseen,
  type Defect,
  type Finding,
  type Measurement,
  type Subject,
} from '@bevrin/contract';
import { findingName } from '../parts/names.js';
import { amount } from '../parts/format.js';
import { VerdictMark } from '../parts/VerdictMark.js';

interface Props {
  readonly findings: readonly Finding[];
  readonly measurement: Measurement;
  readonly selected: Defect;
  readonly onSelect: (defect: Defect) => void;
  /** Findings that were set aside, by `defect reading`: waived, or no defect. */
  readonly aside: ReadonlyMap<string, string>;
  /** Shows what was found of this one alone, where room is short. */
  readonly alone?: Subject | null;
}

/** Each defect against its limits, the worst first, then what was not judged. */
export const FindingsTable = ({ findings, measurement, selected, onSelect, aside, alone = null }: Props) => {
  const silent = withoutFinding(findings, measurement);
  const shown = findings.filter((f) =>
    alone === null
      ? f.verdict !== 'pass' || f.defect === selected
      : f.defect === alone && f.verdict !== 'pass',
  );
  const within = findings.filter((f) => !shown.includes(f));
  const [passed, untold] = [within.filter((f) => !passedUnseen(f)), within.filter(passedUnseen)];
  return (
    <>
      <table className="w-full text-sm">
        <caption className="sr-only">Findings</caption>
        <thead className="heading">
          <tr className="border-b border-ink">
            <th className="py-1 text-left">Finding</th>
            <th className="text-right">Reading</th>
            <th className="pl-3 text-left">Against its limits</th>
            <th className="pr-2 text-right">Sev.</th>
            <th className="text-left">Verdict</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((f) => (
            <FindingRow
              key={`${f.defect} ${f.reading}`}
              finding={f}
              current={f.defect === selected}
              onSelect={onSelect}
              aside={aside.get(`${f.defect} ${f.reading}`)}
            />
          ))}
        </tbody>
      </table>
      {alone === null && passed.length > 0 && (
        <p className="pt-1.5 text-sm text-soft">Within its limits: {asWords(passed.map(findingName))}.</p>
      )}
      {alone === null && untold.length > 0 && (
        <p className="pt-1.5 text-sm text-soft">Could not be told: {asWords(untold.map(findingName))}.</p>
      )}
      {alone === null &&
        [...silent].map(([why, defects]) => (
          <p key={why} className="pt-1.5 text-sm text-soft">
            {asWords(defects)}: {why}
          </p>
        ))}
    </>
  );
};

const FindingRow = ({
  finding: f,
  current,
  onSelect,
  aside,
}: {
  aside: string | undefined;
  finding: Finding;
  current: boolean;
  onSelect: (defect: Defect) => void;
}) => {
  const { defect } = f;
  const untold = passedUnseen(f);
  const choose = defect === 'conform' ? undefined : () => onSelect(defect);
  return (
    <tr
      onClick={choose}
      title={f.because}
      className={`border-b border-hair ${choose ? 'cursor-pointer' : ''} ${current ? 'bg-slip' : ''}`}
    >
      <td className="py-1">
        {choose ? (
          <button className="text-left hover:underline" onClick={choose} aria-pressed={current}>
            {findingName(f)}
          </button>
        ) : (
          findingName(f)
        )}
      </td>
      <td className="text-right whitespace-nowrap">{amount(f.value, f.unit)}</td>
      <td className="pl-3">{f.defect === 'conform' ? <Wanted finding={f} /> : <LimitScale finding={f} />}</td>
      <td className="pr-2 text-right font-semibold">{f.value === null ? '–' : f.severity}</td>
      <td>
        {aside || untold ? (
          <span className="text-sm italic">{aside ?? 'not told'}</span>
        ) : (
          <VerdictMark verdict={f.verdict} />
        )}
      </td>
    </tr>
  );
};

const Wanted = ({ finding }: { finding: Finding }) => (
  <span className="text-soft">
    {finding.unit ? `asked for: ${amount(finding.pass, finding.unit)}` : 'see Facts'}
  </span>
);

/** Defects that have no row of their own, by the reason why. */
const withoutFinding = (findings: readonly Finding[], { readings }: Measurement): Map<string, string[]> => {
  const reasons = new Map<string, string[]>();
  for (const d of DEFECTS) {
    if (findings.some((f) => f.defect === d)) continue;
    const reading = readings[d];
    const why =
      reading.state === 'notMeasurable'
        ? `not measured, ${reading.reason}`
        : 'measured; this spec sets no limit';
    reasons.set(why, [...(reasons.get(why) ?? []), DEFECT_NAMES[d]]);
  }
  return reasons;
};

const WIDE = 112;
const TALL = 16;

/** The reading on a scale of its limits: plain up to pass, hatched up to fail, solid beyond. */
const LimitScale = ({ finding: { value, pass, fail, unit } }: { finding: Finding }) => {
  const most = Math.max(fail * 1.5, Math.min(value ?? 0, fail * 3));
  const x = (v: number): number => (Math.min(v, most) / most) * WIDE;
  return (
    <svg
      width={WIDE + 4}
      height={TALL}
      role="img"
      aria-label={`passes to ${amount(pass, unit)}, fails above ${amount(fail, unit)}`}
    >
      <title>{`passes to ${amount(pass, unit)}, fails above ${amount(fail, unit)}`}</title>
      <rect x={0} y={9} width={x(pass)} height={5} fill="#eeeeee" stroke="#141414" strokeWidth={0.6} />
      <rect
        x={x(pass)}
        y={9}
        width={x(fail) - x(pass)}
        height={5}
        fill="url(#hatch)"
        stroke="#141414"
        strokeWidth={0.6}
      />
      <rect
        x={x(fail)}
        y={9}
        width={WIDE - x(fail)}
        height={5}
        fill="#141414"
        stroke="#141414"
        strokeWidth={0.6}
      />
      {value !== null && <path d={`M${x(value)} 8 l-3.5 -7 h7 z`} fill="#141414" />}
    </svg>
  );
};
