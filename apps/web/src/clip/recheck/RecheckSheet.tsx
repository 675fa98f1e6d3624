import {
  findingName,
  HARM_NAMES,
  RECHECK_VERDICT_NAMES,
  type ClipDetail,
  type ClipRecheck,
  type JudgedHarm,
  type Recheck,
  type RecheckVerdict,
} from '@bevrin/contract';
import { Link } from 'react-router';
import { recheckApi } from '../../api/rechecks.js';
import { amount, whenText } from '../../parts/format.js';
import { versionAddress } from '../versionAddress.js';
import { Reasons } from './Reasons.js';
import { Return } from './Return.js';
import { Sign } from './Sign.js';
import type { Rechecking } from './useRechecking.js';

interface Props {
  readonly clip: ClipDetail;
  readonly rechecking: Rechecking;
  readonly onLookAt: (frame: number, x: number, y: number) => void;
  readonly onGo: (frame: number) => void;
}

/** Repaired files that came back: their proof against the original, and what is said of them. */
export const RecheckSheet = ({ clip, rechecking, onLookAt, onGo }: Props) => {
  const { returned, open, choose } = rechecking;
  return (
    <div className="text-sm">
      {returned.length > 0 ? (
        <details className="pt-2">
          <summary className="cursor-pointer">Return another repaired file</summary>
          <Return clip={clip} />
        </details>
      ) : (
        <Return clip={clip} />
      )}
      {returned.length > 0 && (
        <table className="mt-3 w-full" aria-label="Versions that came back">
          <tbody>
            {returned.map((r) => (
              <tr
                key={r.id}
                aria-selected={r.id === open?.id}
                onClick={() => choose(r.id)}
                className={`cursor-pointer border-b border-hair ${r.id === open?.id ? 'bg-ink text-white' : 'hover:bg-slip'}`}
              >
                <td className="py-0.5 pl-1">{r.version}</td>
                <td className="max-w-40 truncate pl-2" title={r.file}>
                  <button className="w-full truncate text-left" aria-label={`Look at version ${r.version}`}>
                    {r.file}
                  </button>
                </td>
                <td className="pl-2 text-right" data-testid="recheck-state">
                  {stateText(r)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {returned.length === 0 && (
        <p className="pt-3 text-soft">
          Nothing has come back yet. The original stays as it is, whatever comes.
        </p>
      )}
      {open?.error && <Failed recheck={open} />}
      {open?.recheck && (
        <Proof clip={clip} open={open} recheck={open.recheck} onLookAt={onLookAt} onGo={onGo} />
      )}
    </div>
  );
};

const stateText = ({ state, progress, verdict, signed }: ClipRecheck): string => {
  if (signed) return signed.how === 'signedOff' ? 'signed off' : 'sent back';
  if (state === 'waiting') return 'waits for its turn';
  if (state === 'running') return `${Math.round(100 * progress)} %`;
  return verdict ? RECHECK_VERDICT_NAMES[verdict] : state;
};

const Failed = ({ recheck }: { recheck: ClipRecheck }) => {
  const [again] = recheckApi.useRecheckAgainMutation();
  return (
    <p role="alert" className="pt-2">
      {recheck.error}{' '}
      <button className="button" onClick={() => void again({ id: recheck.id, clipId: recheck.clipId })}>
        Recheck again
      </button>
    </p>
  );
};

/** What leaves the house with a repaired file. */
const OUT = [
  ['Sheet to print', 'sheet.pdf'],
  ['CSV', 'recheck.csv'],
  ['JSON', 'recheck.json'],
  ['Timeline with markers', 'timeline.otio'],
  ['Edit list with markers', 'markers.edl'],
] as const;

const STAMPS: Record<RecheckVerdict, string> = {
  accepted: 'border-rule font-normal',
  acceptedWithRemarks: 'border-dashed border-ink font-semibold',
  sendBack: 'border-ink bg-ink font-semibold text-white',
};

const Proof = ({
  clip,
  open,
  recheck,
  onLookAt,
  onGo,
}: {
  clip: ClipDetail;
  open: ClipRecheck;
  recheck: Recheck;
  onLookAt: Props['onLookAt'];
  onGo: Props['onGo'];
}) => (
  <section>
    <p className="pt-3">
      <span
        className={`inline-block border px-2 text-lg ${STAMPS[open.verdict ?? recheck.verdict]}`}
        data-testid="recheck-verdict"
      >
        {RECHECK_VERDICT_NAMES[open.verdict ?? recheck.verdict]}
      </span>
      {open.verdict !== recheck.verdict && (
        <span className="pl-2">{RECHECK_VERDICT_NAMES[recheck.verdict]} by the machine</span>
      )}
      <span className="pl-3 text-soft">
        {recheck.spec.name}, version {recheck.spec.version}
      </span>
      <Link
        className="float-right pt-1 underline decoration-rule underline-offset-4"
        to={versionAddress(clip, open.versionId)}
      >
        Open it by itself
      </Link>
    </p>
    <Reasons open={open} recheck={recheck} onLookAt={onLookAt} onGo={onGo} />
    <Sign open={open} />
    <p className="pt-2 text-soft" data-testid="made-of">
      Made from version {open.madeFrom ?? 1}
      {open.madeBy
        ? ` by the plan that ${open.madeBy.who} approved, ${whenText(open.madeBy.at)}`
        : '; no plan had been approved'}
      .
    </p>
    {recheck.alignment && <Lies alignment={recheck.alignment} />}
    {recheck.readings.length > 0 && <Readings readings={recheck.readings} />}
    {recheck.harmJudged.length > 0 && (
      <HarmTable
        harm={recheck.harmJudged}
        reasons={recheck.notMeasurable}
        onLookAt={onLookAt}
        offset={recheck.alignment?.frameOffset ?? 0}
      />
    )}
    <p className="flex flex-wrap gap-2 pt-3">
      {OUT.map(([name, file]) => (
        <a
          key={file}
          className="button"
          href={`/api/rechecks/${open.id}/out/${file}`}
          target={file.endsWith('.pdf') ? '_blank' : undefined}
          rel="noreferrer"
        >
          {name}
        </a>
      ))}
    </p>
  </section>
);

const Lies = ({ alignment: a }: { alignment: NonNullable<Recheck['alignment']> }) => (
  <p className="pt-2 text-soft" data-testid="lies">
    It begins with frame {a.frameOffset} of the original
    {a.steadied ? ', and was steadied' : ''}
    {a.cropPct >= 0.1 ? `; ${amount(a.cropPct, '%')} of the picture are gone` : '; no picture is gone'}
    {Math.abs(a.scale - 1) >= 0.001 ? `, shown ${a.scale.toFixed(3)} times as large` : ''}
    {Math.abs(a.levelShiftPct) >= 0.2 ? `; brightness changed by ${amount(a.levelShiftPct, '%')}` : ''}.
  </p>
);

const Readings = ({ readings }: { readings: Recheck['readings'] }) => (
  <table className="mt-3 w-full" aria-label="Readings before and after">
    <thead className="heading">
      <tr className="border-b border-ink">
        <th className="py-0.5 text-left">Finding</th>
        <th className="pl-2 text-right">Before</th>
        <th className="pl-2 text-right">After</th>
        <th className="pl-2 text-right">Expected</th>
        <th className="pl-2 text-right">Limit</th>
        <th className="pl-2 text-left">Now</th>
      </tr>
    </thead>
    <tbody>
      {readings.map((r) => (
        <tr key={`${r.defect} ${r.reading}`} className="border-b border-hair whitespace-nowrap">
          <td className="max-w-24 truncate py-0.5" title={findingName(r)}>
            {findingName(r)}
          </td>
          <td className="pl-2 text-right">{amount(r.before, '')}</td>
          <td className="pl-2 text-right font-semibold">{amount(r.after, r.unit)}</td>
          <td className="pl-2 text-right">{r.expected === null ? '' : amount(r.expected, '')}</td>
          <td className="pl-2 text-right">{amount(r.pass, '')}</td>
          <td
            className={`pl-2 ${r.verdictAfter === 'fail' ? 'font-semibold' : ''}`}
            title={`${r.verdictBefore} before`}
          >
            {r.verdictAfter === 'incomplete' ? 'not told' : r.verdictAfter}
          </td>
        </tr>
      ))}
    </tbody>
  </table>
);

/** Figures of harm against their limits, each with its worst place. */
const HarmTable = ({
  harm,
  reasons,
  offset,
  onLookAt,
}: {
  harm: readonly JudgedHarm[];
  reasons: Readonly<Record<string, string>>;
  offset: number;
  onLookAt: Props['onLookAt'];
}) => (
  <table className="mt-3 w-full" aria-label="What the repair harmed">
    <thead className="heading">
      <tr className="border-b border-ink">
        <th className="py-0.5 text-left">Harm</th>
        <th className="pl-2 text-right">Found</th>
        <th className="pl-2 text-right">Limit</th>
        <th className="pl-2 text-left">Verdict</th>
      </tr>
    </thead>
    <tbody>
      {harm.map(({ name, value, pass, verdict, at }) => {
        const [, words = name, unit = ''] = HARM_NAMES.find(([n]) => n === name) ?? [];
        return (
          <tr key={name} className="border-b border-hair" title={reasons[name]}>
            <td className="py-0.5">
              {at ? (
                <button className="hover:underline" onClick={() => onLookAt(at.frame + offset, at.x, at.y)}>
                  {words}, worst at frame {at.frame + offset}
                </button>
              ) : (
                words
              )}
            </td>
            <td className="pl-2 text-right">{value === null ? 'n/m' : amount(value, unit)}</td>
            <td className="pl-2 text-right">{amount(pass, unit)}</td>
            <td className={`pl-2 ${verdict === 'fail' ? 'font-semibold' : ''}`}>
              {verdict === 'incomplete' ? 'not told' : verdict}
            </td>
          </tr>
        );
      })}
    </tbody>
  </table>
);
