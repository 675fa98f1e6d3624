import { Tabs } from 'radix-ui';
import type { KeyboardEvent } from 'react';
import { Link } from 'react-router';
import { NEIGHBOUR_FIGURES } from '@bevrin/core/scoring';
import type {
  BesideFinding,
  ClipDetail,
  ClipFacts,
  ClipPlan,
  Defect,
  Measurement,
  Region,
} from '@bevrin/contract';
import { BesideLines } from '../parts/BesideLines.js';
import { leaveToPage } from '../parts/commands.js';
import { VerdictMark } from '../parts/VerdictMark.js';
import { ClipWaiting } from './ClipWaiting.js';
import { EvidenceSheet } from './evidence/EvidenceSheet.js';
import type { Place } from './evidence/hot-pixels/places.js';
import { FactsSheet } from './FactsSheet.js';
import { FindingsTable } from './FindingsTable.js';
import { OverruleSheet } from './overrule/OverruleSheet.js';
import { Refused } from './overrule/Refused.js';
import type { Overruling } from './overrule/useOverrule.js';
import type { Drawn } from './picture/tools.js';
import { PlanList } from './PlanList.js';
import type { InOut } from './inOut.js';
import { RecheckSheet } from './recheck/RecheckSheet.js';
import type { Rechecking } from './recheck/useRechecking.js';
import { versionsAddress } from './versionAddress.js';
import { TrialSheet } from './trial/TrialSheet.js';
import type { Trying } from './trial/useTrying.js';

export const SHEET_PAGES = {
  evidence: 'Evidence',
  overrule: 'Overrule',
  plan: 'Plan',
  trials: 'Trials',
  recheck: 'Recheck',
  facts: 'Facts, note',
} as const;
export type SheetPage = keyof typeof SHEET_PAGES;

/** The sheets of a clip; on a version that is opened by itself nothing is decided. */
export const pagesOf = ({ versionOf }: Pick<ClipDetail, 'versionOf'>): readonly SheetPage[] =>
  versionOf ? ['evidence', 'facts'] : (Object.keys(SHEET_PAGES) as SheetPage[]);

const pageName = ({ versionOf }: ClipDetail, page: SheetPage): string =>
  versionOf && page === 'facts' ? 'Facts' : SHEET_PAGES[page];

/** Arrows step through frames here too; the sheets are reached by Tab and by their own keys. */
const leaveToFrames = (e: KeyboardEvent): void => {
  if (/^(Arrow|Home|End)/.test(e.key)) leaveToPage(e);
};

interface Props {
  readonly clip: ClipDetail & { facts: ClipFacts };
  readonly complete: boolean;
  readonly plan: ClipPlan | null;
  readonly page: SheetPage;
  readonly onPage: (page: SheetPage) => void;
  readonly selected: Defect;
  readonly onSelect: (defect: Defect) => void;
  readonly frame: number;
  readonly inOut: InOut;
  readonly drawn: Drawn | null;
  readonly onDrop: () => void;
  readonly overruling: Overruling;
  readonly trying: Trying;
  readonly rechecking: Rechecking;
  readonly onLookAt: (frame: number, x: number, y: number) => void;
  readonly chosenPlace: number | null;
  readonly onPlace: (place: Place) => void;
  readonly onEdge: (region: Region) => void;
  readonly onGo: (frame: number) => void;
  /** How it differs from the others of its roll. */
  readonly beside: readonly BesideFinding[];
}

/** The written side: the verdict, the findings, and behind them evidence, decisions, plan and facts. */
export const Sheet = (props: Props) => {
  const { clip, complete, plan, page, onPage, selected, onSelect, frame } = props;
  const { measurement, judgement } = clip;
  const decided = plan?.decided;
  const disputed = new Set(decided?.disputed.map((d) => `${d.defect} ${d.reading}`));
  const steps = decided?.steps.length ?? judgement?.plan.steps.length ?? 0;
  if (!measurement || !judgement)
    return (
      <aside className="flex w-[27rem] shrink-0 flex-col border-l border-ink bg-sheet">
        {complete && <ClipWaiting clip={clip} />}
        <div className="flex-1 overflow-auto border-t border-rule px-4 pb-4">
          {complete && <FactsSheet clip={clip} />}
        </div>
      </aside>
    );
  return (
    <aside className="flex w-[27rem] shrink-0 flex-col border-l border-ink bg-sheet">
      <div className="max-h-[45%] shrink-0 overflow-auto border-b border-ink px-4 pt-2 pb-2">
        <p className="flex items-baseline gap-3 pb-1">
          <VerdictMark verdict={decided?.verdict ?? judgement.verdict} large />
          <span className="text-sm text-soft">
            {judgement.spec.name}, version {judgement.spec.version}
            {decided && decided.verdict !== judgement.verdict && `; as measured: ${judgement.verdict}`}
            {clip.state === 'failed' && `; ${clip.error ?? 'the last measurement failed'}`}
          </span>
        </p>
        {clip.versionOf && <VersionHead clip={clip} of={clip.versionOf} />}
        {/* What is found now stands beside what was found before, below. */}
        {page !== 'recheck' && (
          <FindingsTable
            findings={judgement.findings}
            measurement={measurement}
            selected={selected}
            onSelect={onSelect}
            aside={setAside(decided)}
            alone={page === 'trials' ? (props.trying.step?.defect ?? null) : null}
          />
        )}
      </div>
      <Refused overruling={props.overruling} named={page === 'overrule' || page === 'trials'} />
      <Tabs.Root
        value={page}
        onValueChange={(value) => onPage(value as SheetPage)}
        className="flex min-h-0 flex-1 flex-col"
      >
        <Tabs.List aria-label="Sheets" className="flex gap-3.5 border-b border-rule px-4 text-sm">
          {pagesOf(clip).map((value) => (
            <Tabs.Trigger
              key={value}
              value={value}
              onKeyDown={leaveToFrames}
              className="border-b-2 border-transparent py-1 text-soft data-[state=active]:border-ink data-[state=active]:font-semibold data-[state=active]:text-ink"
            >
              {pageName(clip, value)}
              {value === 'plan' && steps > 0 && ` (${steps})`}
              {value === 'overrule' && Object.keys(clip.overrides).length > 0 && ' •'}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        <div className="min-h-0 flex-1 overflow-auto px-4 pb-4">
          <Tabs.Content value="evidence">
            <BesideLines beside={props.beside.filter((b) => NEIGHBOUR_FIGURES[b.name] === selected)} />
            <EvidenceSheet
              {...props}
              clip={{ ...clip, measurement } as typeof clip & { measurement: Measurement }}
              defect={selected}
              disputed={disputed}
            />
          </Tabs.Content>
          <Tabs.Content value="overrule">
            <OverruleSheet {...props} notes={plan?.frameNotes ?? []} />
          </Tabs.Content>
          <Tabs.Content value="plan">
            <Link to={`/batches/${clip.batchId}/clips/${clip.id}/plan`} className="button my-2 inline-block">
              Decide on the plan
            </Link>
            {decided?.approved && <span className="ml-3 text-sm">approved by {decided.approved.who}</span>}
            <BesideLines beside={props.beside} withMatch />
            <PlanList
              plan={decided ? { ...judgement.plan, steps: decided.steps } : judgement.plan}
              onSelect={onSelect}
              onTry={(treatment) => {
                props.trying.look(treatment);
                onPage('trials');
              }}
            />
          </Tabs.Content>
          <Tabs.Content value="trials">
            <TrialSheet {...props} frozen={decided?.approved != null} />
          </Tabs.Content>
          <Tabs.Content value="recheck">
            <RecheckSheet {...props} />
          </Tabs.Content>
          <Tabs.Content value="facts">
            <FactsSheet clip={clip} />
          </Tabs.Content>
        </div>
      </Tabs.Root>
      <p className="sr-only" role="status">
        frame {frame}
      </p>
    </aside>
  );
};

/** Which version is open by itself, and the way back to its clip. */
const VersionHead = ({ clip, of }: { clip: ClipDetail; of: NonNullable<ClipDetail['versionOf']> }) => (
  <p className="pb-1 text-sm" data-testid="version-of">
    Version {of.number} of{' '}
    <Link className="underline" to={versionsAddress(clip)}>
      {of.clip}
    </Link>
    , by itself
  </p>
);

/** Findings that do not count, by `defect reading`, with the word for why. */
const setAside = (decided: ClipPlan['decided'] | undefined): ReadonlyMap<string, string> =>
  new Map([
    ...(decided?.waived ?? []).map((w) => [`${w.defect} ${w.reading}`, 'waived'] as const),
    ...(decided?.disputed ?? []).map((w) => [`${w.defect} ${w.reading}`, 'no defect'] as const),
  ]);
