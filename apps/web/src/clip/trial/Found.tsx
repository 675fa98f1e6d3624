import { useMemo } from 'react';
import {
  findingName,
  HARM_NAMES,
  isOfReading,
  type ClipDetail,
  type ClipTrial,
  type DecidedStep,
  type Decision,
  type Trial,
  type TrialRun,
} from '@bevrin/contract';
import { comparable, targetsFrom, weigh } from '@bevrin/core/scoring';
import { amount } from '../../parts/format.js';
import { Chart, type Curve } from '../evidence/Chart.js';
import { groupsOf, harmRows, runValue, settingsFor, sweptName } from './words.js';
import type { OpenTrial } from './useTrying.js';

interface Props {
  readonly clip: ClipDetail;
  readonly open: OpenTrial;
  readonly step: DecidedStep | null;
  /** Other trials of the same treatment, drawn beside it. */
  readonly others: readonly ClipTrial[];
  readonly frozen: boolean;
  readonly onChoose: (run: number) => void;
  readonly onDecide: (decision: Decision) => Promise<boolean>;
  readonly onLookAt: (frame: number, x: number, y: number) => void;
}

/** What a trial found: gain against harm, setting by setting, the one that is proposed, and a way to take one. */
export const Found = (props: Props) => {
  const { clip, open, step, others, frozen, onChoose, onDecide, onLookAt } = props;
  const { trial, run, trialId, job } = open;
  const ran = trial.runs[run];
  const findings = clip.judgement?.findings;
  const chart = useMemo(() => chartOf(trial, run, others, findings ?? []), [trial, run, others, findings]);
  const inPlan = step?.tried?.trial === trialId ? step.tried.run : null;
  return (
    <section>
      <p className="pt-2 font-semibold" data-testid="trial-choice">
        {job.state === 'running' ? 'Settings come one by one.' : trial.choice.because}
      </p>
      {chart && (
        <Chart
          title={`What is left of ${chart.reading.toLowerCase()}, against what it harms`}
          xTitle="harm, weighed, % of the whole gain"
          yTitle={`${chart.reading}, ${chart.unit}`}
          curve={chart.curve}
          also={chart.also}
          limit={chart.limit}
          here={chart.harm[run]}
          marks={
            trial.choice.run === null ? undefined : [{ at: chart.harm[trial.choice.run], name: 'proposed' }]
          }
          onPick={(x) => onChoose(chart.runs[nearest(chart.curve.x, x)])}
        />
      )}
      <RunTable trial={trial} run={run} inPlan={inPlan} onChoose={onChoose} />
      <p className="flex items-center gap-3 pt-2">
        <button
          className="button font-semibold"
          disabled={frozen || !step || job.treatment === 'plan'}
          onClick={() =>
            job.treatment !== 'plan' &&
            void onDecide({
              kind: 'settings',
              treatment: job.treatment,
              settings: settingsFor(step, ran),
              trial: { id: trialId, run },
            })
          }
        >
          Use this
        </button>
        <span className="text-soft">
          {job.treatment === 'plan'
            ? 'The plan as it stands.'
            : frozen
              ? 'The plan is approved: open it again to change it.'
              : step
                ? `${sweptName(trial)} ${runValue(trial, run)}, into the step of the plan`
                : 'The plan has no such step: add it on the plan page first.'}
        </span>
      </p>
      <HarmTable run={ran} onLookAt={onLookAt} />
    </section>
  );
};

/** Columns of harm that fit beside each other; the others stand below, for the setting that is looked at. */
const COLUMNS = ['detailKeptPct', 'smearPct', 'ghostPct'] as const;
const HEADS: Record<(typeof COLUMNS)[number], string> = {
  detailKeptPct: 'Kept',
  smearPct: 'Smear',
  ghostPct: 'Ghost',
};

const RunTable = ({
  trial,
  run,
  inPlan,
  onChoose,
}: {
  trial: Trial;
  run: number;
  inPlan: number | null;
  onChoose: (run: number) => void;
}) => (
  <table className="mt-2 w-full whitespace-nowrap" aria-label="Settings that were tried">
    <thead className="heading">
      <tr className="border-b border-ink">
        <th className="py-0.5 text-left">{sweptName(trial)}</th>
        <th className="pl-2 text-right">Then</th>
        {COLUMNS.map((c) => (
          <th key={c} className="pl-2 text-right" title={HARM_NAMES.find(([name]) => name === c)?.[1]}>
            {HEADS[c]}
          </th>
        ))}
        <th className="pl-2 text-right" title="seconds a frame">
          s
        </th>
      </tr>
    </thead>
    <tbody>
      {trial.runs.map((r, i) => (
        <tr
          key={i}
          aria-selected={i === run}
          onClick={() => onChoose(i)}
          className={`cursor-pointer border-b border-hair ${i === run ? 'bg-ink text-white' : 'hover:bg-slip'}`}
        >
          <td className="py-0.5">
            <button
              className="w-full text-left"
              aria-label={`Look at ${sweptName(trial)} ${runValue(trial, i)}`}
            >
              {runValue(trial, i)}
              {trial.choice.run === i && ' proposed'}
              {inPlan === i && ', in the plan'}
            </button>
          </td>
          <td className="pl-2 text-right">{r.gain[0] ? amount(r.gain[0].to, r.gain[0].unit) : '–'}</td>
          {COLUMNS.map((c) => (
            <td key={c} className="pl-2 text-right" title={r.notMeasurable[c]}>
              {r.harm[c] === null ? 'n/m' : `${Math.round(r.harm[c])} %`}
            </td>
          ))}
          <td className="pl-2 text-right">{r.secondsPerFrame.toFixed(2)}</td>
        </tr>
      ))}
    </tbody>
  </table>
);

/** Everything that the setting changed, each with its place. */
const HarmTable = ({ run, onLookAt }: { run: TrialRun; onLookAt: Props['onLookAt'] }) => (
  <table className="mt-3 w-full" aria-label="What this setting changes">
    <caption className="heading text-left">What this setting changes</caption>
    <tbody>
      {run.gain.map((g) => (
        <tr key={`${g.defect} ${g.reading}`} className="border-b border-hair">
          <td className="py-0.5">{findingName(g)}</td>
          <td className="text-right whitespace-nowrap">
            {amount(g.from, g.unit)} → {amount(g.to, g.unit)}
          </td>
        </tr>
      ))}
      {run.worse.map((w) => (
        <tr key={`worse ${w.defect} ${w.reading}`} className="border-b border-hair font-semibold">
          <td className="py-0.5">worse: {findingName(w)}</td>
          <td className="text-right whitespace-nowrap">
            {amount(w.from, w.unit)} → {amount(w.to, w.unit)}
          </td>
        </tr>
      ))}
      {harmRows(run).map(({ name, words, text, why }) => {
        const at = run.worstAt[name];
        return (
          <tr key={name} className="border-b border-hair" title={why ?? undefined}>
            <td className="py-0.5">
              {at ? (
                <button className="hover:underline" onClick={() => onLookAt(at.frame, at.x, at.y)}>
                  {words}, worst at frame {at.frame}
                </button>
              ) : (
                words
              )}
            </td>
            <td className={`text-right whitespace-nowrap ${why ? 'text-soft' : ''}`}>{text}</td>
          </tr>
        );
      })}
    </tbody>
  </table>
);

interface Drawn {
  readonly reading: string;
  readonly unit: string;
  /** Harm of every run. */
  readonly harm: readonly number[];
  /** The runs that the curve goes through. */
  readonly runs: readonly number[];
  readonly curve: Curve;
  readonly also: readonly (Curve & { readonly name: string })[];
  readonly limit: { readonly at: number; readonly name: string } | undefined;
}

type Findings = readonly { defect: TrialRun['gain'][number]['defect']; reading: string; pass: number }[];

/** What is left against the harm, weighed as the choice weighs it; `null` where no reading is judged. */
const chartOf = (
  trial: Trial,
  run: number,
  others: readonly ClipTrial[],
  findings: Findings,
): Drawn | null => {
  const first = trial.runs[0]?.gain[0];
  if (!first) return null;
  const target = targetsFrom(findings);
  const harmOf = ({ runs }: Trial): number[] => comparable(runs).map((r) => 100 * weigh(r, target).harm);
  const curveOf = (of: Trial, harm: readonly number[], runs: readonly number[]): Curve => ({
    x: runs.map((r) => harm[r]),
    y: runs.map((r) => of.runs[r].gain.find((g) => g.reading === first.reading)?.to ?? null),
    points: true,
  });
  const harm = harmOf(trial);
  // Where two settings are swept, a curve for each value of the second.
  const groups = groupsOf(trial);
  const own = groups.find((g) => g.runs.includes(run))!;
  const pass = findings.find(isOfReading(first))?.pass;
  return {
    reading: findingName(first),
    unit: first.unit,
    harm,
    runs: own.runs,
    curve: curveOf(trial, harm, own.runs),
    also: [
      ...groups.flatMap((g) => (g === own ? [] : [{ ...curveOf(trial, harm, g.runs), name: g.name }])),
      ...others.flatMap((o) =>
        groupsOf(o.trial).map((g) => ({
          ...curveOf(o.trial!, harmOf(o.trial!), g.runs),
          name: [o.createdAt.slice(11, 16), g.name].filter(Boolean).join(' '),
        })),
      ),
    ],
    limit: pass === undefined ? undefined : { at: pass, name: `pass, ${amount(pass, first.unit)}` },
  };
};

const nearest = (values: readonly number[], x: number): number =>
  values.reduce((best, v, i) => (Math.abs(v - x) < Math.abs(values[best] - x) ? i : best), 0);
