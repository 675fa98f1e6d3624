import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import type { Limit, ClipReadings } from '@bevrin/contract';
import { amount } from '../parts/format.js';
import { findingName } from '../parts/names.js';
import { keyOf } from './draft.js';

const WIDE = 470;
const TALL = 46;
const BASE = 34;
const BIN = 4;
/** Readings beyond this many times the fail limit are drawn at the end. */
const BEYOND = 2.2;
const KEY_STEP = 0.02;

interface Props {
  readonly limit: Limit;
  /** The limit as it is saved: where the scale ends does not move while a line is dragged. */
  readonly saved: Limit;
  readonly clips: readonly ClipReadings[];
  readonly onMove: (which: 'pass' | 'fail', value: number) => void;
}

/** Where this batch's readings lie, with the two limits as lines that can be dragged. */
export const Distribution = ({ limit, saved, clips, onMove }: Props) => {
  const svg = useRef<SVGSVGElement>(null);
  const most = BEYOND * Math.max(saved.fail, saved.pass * 1.5);
  const x = (v: number): number => (Math.min(v, most) / most) * WIDE;
  /** Where the readings begin that fail: nowhere for what is marginal at most. */
  const failing = limit.marginalAtMost ? WIDE : x(limit.fail);
  const values = clips.map((c) => c.readings[keyOf(limit)]?.value ?? null).filter((v) => v !== null);
  const bins = new Map<number, number>();
  for (const v of values) {
    const bin = Math.min(Math.floor(WIDE / BIN) - 1, Math.floor(x(v) / BIN));
    bins.set(bin, (bins.get(bin) ?? 0) + 1);
  }
  const tallest = Math.max(1, ...bins.values());
  const drag = (which: 'pass' | 'fail') => (event: PointerEvent<SVGGElement>) => {
    if (event.type === 'pointerdown') event.currentTarget.setPointerCapture(event.pointerId);
    else if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
    const box = svg.current?.getBoundingClientRect();
    if (box) onMove(which, Math.max(0, Math.min(most, ((event.clientX - box.left) / WIDE) * most)));
  };
  const keys = (which: 'pass' | 'fail') => (event: KeyboardEvent) => {
    const way = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    if (way === 0) return;
    event.preventDefault();
    onMove(which, Math.max(0, limit[which] + way * KEY_STEP * saved.fail * (event.shiftKey ? 5 : 1)));
  };
  const line = (which: 'pass' | 'fail') => (
    <g
      role="slider"
      tabIndex={0}
      aria-label={`${findingName(limit)}: ${which === 'pass' ? 'passes to' : 'fails above'}`}
      aria-valuenow={limit[which]}
      aria-valuemin={0}
      aria-valuemax={Number(most.toPrecision(3))}
      aria-valuetext={amount(limit[which], limit.unit)}
      className="cursor-ew-resize"
      onPointerDown={drag(which)}
      onPointerMove={drag(which)}
      onKeyDown={keys(which)}
    >
      <rect x={x(limit[which]) - 6} y={0} width={12} height={TALL} fill="transparent" />
      <line
        x1={x(limit[which])}
        x2={x(limit[which])}
        y1={0}
        y2={BASE + 7}
        stroke="#141414"
        strokeWidth={which === 'fail' ? 2 : 1.2}
        strokeDasharray={which === 'pass' ? '4 2' : undefined}
      />
    </g>
  );
  return (
    <svg ref={svg} width={WIDE} height={TALL} className="block touch-none overflow-visible">
      {[...bins].map(([bin, count]) => {
        const tall = Math.max(3, (count / tallest) * (BASE - 4));
        return (
          <rect key={bin} x={bin * BIN} y={BASE - tall} width={BIN - 1} height={tall} fill="#454545">
            <title>{`${count} ${count === 1 ? 'clip' : 'clips'} near ${amount(((bin + 0.5) * BIN * most) / WIDE, limit.unit)}`}</title>
          </rect>
        );
      })}
      <rect
        x={0}
        y={BASE}
        width={x(limit.pass)}
        height={6}
        fill="#eeeeee"
        stroke="#141414"
        strokeWidth={0.6}
      />
      <rect
        x={x(limit.pass)}
        y={BASE}
        width={Math.max(0, failing - x(limit.pass))}
        height={6}
        fill="url(#hatch)"
        stroke="#141414"
        strokeWidth={0.6}
      />
      <rect x={failing} y={BASE} width={WIDE - failing} height={6} fill="#141414" />
      {line('pass')}
      {!limit.marginalAtMost && line('fail')}
    </svg>
  );
};
