import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useLayoutEffect } from 'react';
import { Link } from 'react-router';
import { DEFECTS, type Clip } from '@bevrin/contract';
import { fillOf, findingFor } from '../parts/severity.js';
import { useSize } from '../parts/useSize.js';
import { Poster } from '../parts/Poster.js';
import { Progress, VerdictMark } from '../parts/VerdictMark.js';
import { soon } from '../clip/picture/pictures.js';
import type { Line } from './filters.js';
import type { Selection } from './useSelection.js';

const TILE_WIDTH = 196;
const TILE = 178;
const HEAD = 30;

interface Props {
  readonly lines: readonly Line[];
  readonly batchId: string;
  readonly selection: Selection;
  /** Told how many clips stand side by side, so that the keys can go up and down. */
  readonly onColumns: (columns: number) => void;
}

/** The pictures of the clips side by side, each with its severities and its verdict. */
export const ContactSheet = ({ lines, batchId, selection, onColumns }: Props) => {
  const [scroller, { width }] = useSize<HTMLDivElement>();
  const columns = Math.max(1, Math.floor((width - 24) / TILE_WIDTH));
  // Before anything is painted: whoever sees the sheet may press the keys.
  useLayoutEffect(() => onColumns(columns), [columns, onColumns]);
  const rows = inRows(lines, columns);
  // eslint-disable-next-line react-hooks/incompatible-library -- the sheet is meant to follow the scroll position
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: (i) => (rows[i].kind === 'group' ? HEAD : TILE),
    overscan: 2,
  });
  useEffect(() => list.measure(), [list, columns, lines]);
  const { cursor } = selection;
  useEffect(() => {
    const at = inRows(lines, columns).findIndex(
      (r) => r.kind === 'clips' && r.clips.some((c) => c.id === cursor),
    );
    if (at >= 0) list.scrollToIndex(at);
  }, [cursor, lines, columns, list]);
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-auto bg-sheet px-3" role="list" aria-label="Clips">
      <div className="relative" style={{ height: list.getTotalSize() }}>
        {list.getVirtualItems().map(({ index, start }) => {
          const row = rows[index];
          return (
            <div key={index} className="absolute inset-x-0" style={{ top: start }}>
              {row.kind === 'group' ? (
                <h2 className="heading px-2 pt-2.5">
                  {row.name} <span className="font-normal text-soft">{row.count}</span>
                </h2>
              ) : (
                <div className="flex">
                  {row.clips.map((clip) => (
                    <Tile key={clip.id} clip={clip} batchId={batchId} selection={selection} />
                  ))}
                </div>
              )}
            </div>
          );
        })}
      </div>
    </div>
  );
};

type Row = Extract<Line, { kind: 'group' }> | { kind: 'clips'; clips: Clip[] };

const inRows = (lines: readonly Line[], columns: number): Row[] => {
  const rows: Row[] = [];
  for (const line of lines) {
    const last = rows.at(-1);
    if (line.kind === 'group') rows.push(line);
    else if (last?.kind === 'clips' && last.clips.length < columns) last.clips.push(line.clip);
    else rows.push({ kind: 'clips', clips: [line.clip] });
  }
  return rows;
};

const Tile = ({ clip, batchId, selection }: { clip: Clip; batchId: string; selection: Selection }) => {
  const chosen = selection.chosen.has(clip.id);
  return (
    <div
      role="listitem"
      data-chosen={chosen}
      onPointerEnter={() => clip.facts && soon(clip.id)}
      onClick={(e) => selection.choose(clip.id, { extend: e.shiftKey, toggle: e.ctrlKey || e.metaKey })}
      className={`m-1 p-1.5 ${chosen ? 'bg-slip outline-2 -outline-offset-2 outline-ink' : ''}`}
      style={{ width: TILE_WIDTH - 8, height: TILE - 8 }}
    >
      <span className="block h-[100px] bg-well">
        <Poster clip={clip} />
      </span>
      <Link
        to={`/batches/${batchId}/clips/${clip.id}`}
        className="mt-1 block truncate text-sm font-semibold hover:underline"
        title={clip.name}
      >
        {clip.name}
      </Link>
      <span className="mt-0.5 flex items-end justify-between">
        {clip.summary ? <Bars clip={clip} /> : <Progress clip={clip} />}
        {clip.standing && <VerdictMark verdict={clip.standing.verdict} />}
      </span>
    </div>
  );
};

const TALL = 22;

/** The eight severities in their usual order. */
const Bars = ({ clip }: { clip: Clip }) => (
  <svg width={82} height={TALL + 1} role="img" aria-label="Severities of the eight defects">
    {DEFECTS.map((d, i) => {
      const finding = findingFor(clip, d);
      const tall = finding ? Math.max(0.5, (finding.severity / 100) * TALL) : 0;
      return (
        <rect
          key={d}
          x={i * 10 + 1}
          y={TALL - tall}
          width={7}
          height={tall}
          fill={finding ? fillOf(finding) : 'none'}
          stroke="#141414"
          strokeWidth={finding && finding.verdict !== 'pass' ? 0.75 : 0}
        />
      );
    })}
    <line x1={0} x2={81} y1={TALL + 0.5} y2={TALL + 0.5} stroke="#141414" />
  </svg>
);
