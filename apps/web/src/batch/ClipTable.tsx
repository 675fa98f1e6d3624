import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import { Link } from 'react-router';
import { TREATMENT_NAMES, type Clip, type NotRepairable } from '@bevrin/contract';
import { api } from '../api/client.js';
import { findingName } from '../parts/names.js';
import { amount, factsText } from '../parts/format.js';
import { DEFECTS, findingFor, SeverityMark, SHORT_NAMES } from '../parts/severity.js';
import { Progress, Verdict } from '../parts/Verdict.js';

const ROW = 74;
const COLUMNS =
  'grid grid-cols-[7.2rem_minmax(12rem,1fr)_repeat(8,2.9rem)_6.2rem_minmax(11rem,0.9fr)] items-center gap-x-2 px-5';

interface Props {
  readonly clips: readonly Clip[];
  readonly batchId: string;
  readonly selected: string | null;
  readonly onSelect: (id: string) => void;
}

/** A ruled row for each clip; only those in sight are drawn. */
export const ClipTable = ({ clips, batchId, selected, onSelect }: Props) => {
  const scroller = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- the list is meant to follow the scroll position
  const rows = useVirtualizer({
    count: clips.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 6,
  });
  useEffect(() => {
    const at = clips.findIndex((c) => c.id === selected);
    if (at >= 0) rows.scrollToIndex(at);
  }, [selected, clips, rows]);
  return (
    <div
      role="table"
      aria-label="Clips"
      aria-rowcount={clips.length}
      className="flex min-h-0 flex-1 flex-col"
    >
      <div role="row" className={`${COLUMNS} heading border-b border-ink bg-sheet py-1`}>
        <span role="columnheader" className="col-span-2">
          Clip
        </span>
        {DEFECTS.map((d) => (
          <span role="columnheader" key={d} className="text-center">
            {SHORT_NAMES[d]}
          </span>
        ))}
        <span role="columnheader">Verdict</span>
        <span role="columnheader">First repair</span>
      </div>
      <div ref={scroller} className="min-h-0 flex-1 overflow-auto bg-sheet">
        <div className="relative" style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map(({ index, start }) => (
            <div key={clips[index].id} className="absolute inset-x-0" style={{ top: start, height: ROW }}>
              <ClipRow
                clip={clips[index]}
                batchId={batchId}
                current={clips[index].id === selected}
                onSelect={onSelect}
              />
            </div>
          ))}
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
}: {
  clip: Clip;
  batchId: string;
  current: boolean;
  onSelect: (id: string) => void;
}) => (
  <div
    role="row"
    aria-selected={current}
    onClick={() => onSelect(clip.id)}
    className={`${COLUMNS} h-full border-b border-hair ${current ? 'bg-slip outline-2 -outline-offset-2 outline-ink' : ''}`}
  >
    <span role="cell" className="block h-[62px] w-[110px] bg-well">
      {clip.hasPictures && (
        <img
          src={`/api/clips/${clip.id}/poster.jpg`}
          alt=""
          loading="lazy"
          className="h-full w-full object-contain"
        />
      )}
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
    </span>
    {clip.state === 'measured' ? <Measured clip={clip} /> : <Unmeasured clip={clip} />}
  </div>
);

const Measured = ({ clip }: { clip: Clip }) => {
  const step = clip.judgement?.plan.steps.find((s) => s.priority === 1);
  return (
    <>
      {DEFECTS.map((d) => (
        <span role="cell" key={d}>
          <SeverityMark defect={d} finding={findingFor(clip, d)} />
        </span>
      ))}
      <span role="cell">{clip.judgement && <Verdict verdict={clip.judgement.verdict} />}</span>
      <span role="cell" className="min-w-0 text-sm">
        {step ? (
          <>
            <span className="block truncate">{TREATMENT_NAMES[step.treatment]}</span>
            <span className="block truncate text-xs text-soft">
              {amount(step.expect.from, step.expect.unit)} → {amount(step.expect.to, step.expect.unit)}
              {clip.judgement!.plan.steps.length > 1 &&
                `, then ${clip.judgement!.plan.steps.length - 1} more`}
            </span>
          </>
        ) : (
          <Unrepaired lost={clip.judgement?.plan.notRepairable ?? []} />
        )}
      </span>
    </>
  );
};

/** Where there is no step: nothing is wrong, or nothing can be done. */
const Unrepaired = ({ lost: [first] }: { lost: readonly NotRepairable[] }) =>
  first ? (
    <>
      <span className="block truncate">Cannot be repaired</span>
      <span className="block truncate text-xs text-soft" title={first.because}>
        {findingName(first)}: {first.instead}
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
