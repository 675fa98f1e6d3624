import { DEFECT_NAMES, type Clip, type Defect, type Finding } from '@bevrin/contract';

const HEIGHT = 34;

/** The hatch of a marginal finding, once for the page. */
export const Hatches = () => (
  <svg width="0" height="0" className="absolute" aria-hidden>
    <defs>
      <pattern id="hatch" width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="4" height="4" fill="#e2e2e2" />
        <rect width="1.5" height="4" fill="#141414" />
      </pattern>
    </defs>
  </svg>
);

/** What a mark shows of a finding. */
export type Marked = Pick<Finding, 'severity' | 'verdict' | 'value'>;

/** How a finding is inked: plain, hatched or solid by its verdict. */
export const fillOf = ({ verdict }: Pick<Finding, 'verdict'>): string =>
  verdict === 'fail' ? '#141414' : verdict === 'marginal' ? 'url(#hatch)' : '#c9c9c9';

/** One defect of one clip: a bar as tall as its severity, plain, hatched or solid by verdict, with its figure. */
export const SeverityMark = ({ defect, finding }: { defect: Defect; finding: Marked | undefined }) => {
  const label = finding
    ? finding.value === null
      ? `${DEFECT_NAMES[defect]}: could not be measured`
      : `${DEFECT_NAMES[defect]}: severity ${finding.severity}, ${finding.verdict}`
    : `${DEFECT_NAMES[defect]}: no limit in this spec`;
  const tall = finding && finding.value !== null ? Math.max(1.5, (finding.severity / 100) * HEIGHT) : 0;
  return (
    <span className="flex flex-col items-center" role="img" aria-label={label} title={label}>
      <svg width="20" height={HEIGHT + 1} aria-hidden>
        {tall > 0 ? (
          <rect
            x="4"
            y={HEIGHT - tall}
            width="12"
            height={tall}
            fill={fillOf(finding!)}
            stroke="#141414"
            strokeWidth={finding!.verdict === 'pass' ? 0.5 : 1}
          />
        ) : null}
        <line
          x1="1"
          x2="19"
          y1={HEIGHT + 0.5}
          y2={HEIGHT + 0.5}
          stroke="#141414"
          strokeDasharray={tall > 0 ? undefined : '2 3'}
          strokeWidth="1"
        />
      </svg>
      <span className="text-xs leading-tight text-soft">
        {finding ? (finding.value === null ? 'n/m' : finding.severity) : '\u00a0'}
      </span>
    </span>
  );
};

/** Sum of what weighs on a clip, to put the worst first. */
export const badness = (clip: Pick<Clip, 'state' | 'summary'>): number => {
  if (clip.state === 'failed' || clip.state === 'interrupted') return 1000;
  const findings = clip.summary?.findings ?? [];
  const worst = findings.reduce((most, f) => Math.max(most, f.severity), 0);
  return worst + findings.reduce((sum, f) => sum + f.severity, 0) / 1000;
};

/** The worst finding about one defect. */
export const findingFor = (
  { summary }: Pick<Clip, 'summary'>,
  defect: Defect,
): NonNullable<Clip['summary']>['findings'][number] | undefined =>
  summary?.findings.find((f) => f.defect === defect);
