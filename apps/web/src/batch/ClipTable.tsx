import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import { Link } from 'react-router';
import {
  DEFECT_SHORT_NAMES,
  DEFECTS,
  STAGE_NAMES,
  TREATMENT_NAMES,
  type BesideFinding,
  type Clip,
  type Stage,
} from '@bevrin/contract';
import { besideWords } from '@bevrin/core/scoring';
import { api } from '../api/client.js';
import { findingName } from '../parts/names.js';
import { amount, factsText } from '../parts/format.js';
import { findingFor, SeverityMark } from '../parts/severity.js';
import { Poster } from '../parts/Poster.js';
import { Progress, VerdictMark } from '../parts/VerdictMark.js';
import { soon } from '../clip/picture/pictures.js';
import type { Line } from './filters.js';
import type { Selection } from './useSelection.js';

const ROW = 74;
const COLUMNS =
  'grid grid-cols-[7.2rem_minmax(12rem,1fr)_repeat(8,2.9rem)_6.2rem_minmax(11rem,0.9fr)] items-center gap-x-2 px-5';

const HEAD = 30;

interface Props {
  readonly lines: readonly Line[];
  readonly batchId: string;
  readonly selection: Selection;
  /** How clips differ from what stands beside them, by their ids. */
  readonly beside: ReadonlyMap<string, readonly BesideFinding[]>;
}

/** Stages that the line of a clip shows without words: its verdict and its first repair. */
const UNSAID: readonly Stage[] = ['received', 'measured', 'planned'];

/** A ruled row for each clip; only those in sight are drawn. */
export const ClipTable = ({ lines, batchId, selection, beside }: Props) => {
  const scroller = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- the list is meant to follow the scroll position
  const rows = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: (i) => (lines[i].kind === 'group' ? HEAD : ROW),
    overscan: 6,
  });
  useEffect(() => rows.measure(), [rows, lines]);
  const { cursor, chosen, choose } = selection;
  useEffect(() => {
    const at = lines.findIndex((l) => l.kind === 'clip' && l.clip.id === cursor);
    if (at >= 0) rows.scrollToIndex(at);
  }, [cursor, lines, rows]);
  return (
    <div
      role="table"
      aria-label="Clips"
      aria-rowcount={lines.length + 1}
      className="flex min-h-0 flex-1 flex-col"
    >
      <div role="row" className={`${COLUMNS} heading border-b border-ink bg-sheet py-1`}>
        <span role="columnheader" className="col-span-2">
          Clip
        </span>
        {DEFECTS.map((d) => (
          <span role="columnheader" key={d} className="text-center">
            {DEFECT_SHORT_NAMES[d]}
          </span>
        ))}
        <span role="columnheader">Verdict</span>
        <span role="columnheader">First repair</span>
      </div>
      <div ref={scroller} role="rowgroup" className="min-h-0 flex-1 overflow-auto bg-sheet">
        <div role="presentation" className="relative" style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map(({ index, start, size }) => {
            const line = lines[index];
            return (
              <div
                key={line.kind === 'clip' ? line.clip.id : `group ${line.name}`}
                role="presentation"
                className="absolute inset-x-0"
                style={{ top: start, height: size }}
              >
                {line.kind === 'clip' ? (
                  <ClipRow
                    clip={line.clip}
                    batchId={batchId}
                    current={chosen.has(line.clip.id)}
                    onSelect={choose}
                    beside={beside.get(line.clip.id)}
                  />
                ) : (
                  <h2 className="heading border-b border-rule px-5 pt-2">
                    {line.name} <span className="font-normal text-soft">{line.count}</span>
                  </h2>
                )}
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
};

const ClipRow = ({
  clip,
  batchId,
  current,
  onSelect,
  beside = [],
}: {
  clip: Clip;
  batchId: string;
  current: boolean;
  onSelect: Selection['choose'];
  beside: readonly BesideFinding[] | undefined;
}) => (
  <div
    role="row"
    aria-selected={current}
    onPointerEnter={() => clip.facts && soon(clip.id)}
    onClick={(e) => onSelect(clip.id, { extend: e.shiftKey, toggle: e.ctrlKey || e.metaKey })}
    className={`${COLUMNS} h-full border-b border-hair ${current ? 'bg-slip outline-2 -outline-offset-2 outline-ink' : ''}`}
  >
    <span role="cell" className="block h-[62px] w-[110px] bg-well">
      <Poster clip={clip} />
    </span>
    <span role="cell" className="min-w-0">
      <Link
        to={`/batches/${batchId}/clips/${clip.id}`}
        className="block truncate font-semibold hover:underline"
        title={clip.name}
      >
        {clip.name}
      </Link>
      <span className="block truncate text-xs text-soft">
        {clip.facts ? factsText(clip.facts) : 'facts not read yet'}
      </span>
      {beside.length > 0 && (
        <span className="block truncate text-xs" title={besideText(beside)}>
          {besideText(beside)}
        </span>
      )}
    </span>
    {clip.summary && clip.state !== 'failed' ? <Measured clip={clip} /> : <Unmeasured clip={clip} />}
  </div>
);

/** What stands out beside the other clips of the roll, in words. */
const besideText = (beside: readonly BesideFinding[]): string =>
  `${beside.map(besideWords).join(', ')} than the other ${beside[0].count} of ${beside[0].roll}`;

const Measured = ({ clip }: { clip: Clip }) => {
  const { firstStep, steps = 0, lost = null } = clip.summary ?? {};
  return (
    <>
      {DEFECTS.map((d) => (
        <span role="cell" key={d}>
          <SeverityMark defect={d} finding={findingFor(clip, d)} />
        </span>
      ))}
      <span role="cell">
        {clip.state === 'measured' ? (
          clip.standing && <VerdictMark verdict={clip.standing.verdict} />
        ) : (
          <Progress clip={clip} />
        )}
        {clip.stage && !UNSAID.includes(clip.stage) && (
          <span className="block text-xs text-soft">{STAGE_NAMES[clip.stage]}</span>
        )}
      </span>
      <span role="cell" className="min-w-0 text-sm">
        {firstStep ? (
          <>
            <span className="block truncate">{TREATMENT_NAMES[firstStep.treatment]}</span>
            <span className="block truncate text-xs text-soft">
              {amount(firstStep.expect.from, firstStep.expect.unit)} →{' '}
              {amount(firstStep.expect.to, firstStep.expect.unit)}
              {steps > 1 && `, then ${steps - 1} more`}
            </span>
          </>
        ) : (
          <Unrepaired lost={lost} />
        )}
        {clip.standing?.assignee && <span className="block truncate text-xs">{clip.standing.assignee}</span>}
      </span>
    </>
  );
};

/** Where there is no step: nothing is wrong, or nothing can be done. */
const Unrepaired = ({ lost }: { lost: NonNullable<Clip['summary']>['lost'] }) =>
  lost ? (
    <>
      <span className="block truncate">Cannot be repaired</span>
      <span className="block truncate text-xs text-soft" title={lost.because}>
        {findingName(lost)}: {lost.instead}
      </span>
    </>
  ) : (
    <span className="text-soft">nothing to repair</span>
  );

const Unmeasured = ({ clip }: { clip: Clip }) => {
  const [again] = api.useMeasureAgainMutation();
  const [remove] = api.useRemoveClipMutation();
  return (
    <>
      <span
        role="cell"
        className="col-span-8 line-clamp-3 text-sm"
        {...(clip.error ? { 'data-error': true } : {})}
      >
        {clip.error}
      </span>
      <span role="cell">
        <Progress clip={clip} />
      </span>
      <span role="cell" className="flex gap-2">
        {clip.state === 'failed' && (
          <button className="button" onClick={() => void again(clip.id)}>
            Try again
          </button>
        )}
        {(clip.state === 'failed' || clip.state === 'interrupted') && (
          <button className="button" onClick={() => void remove(clip.id)}>
            Remove
          </button>
        )}
      </span>
    </>
  );
};
