import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';
import type { Measurement } from '@bevrin/contract';
import { amount } from '../../../parts/format.js';
import { markedPlaces, type Place } from './places.js';

const ROW = 23;
const MOST_TALL = 230;
const COLUMNS = 'grid grid-cols-[2rem_1fr_5.5rem_3.6rem_4.4rem] items-center gap-x-2 px-1';

interface Props {
  readonly measurement: Measurement;
  readonly chosen: number | null;
  readonly onChoose: (place: Place) => void;
}

/** Every single place that was found; choosing one goes there, close. */
export const PlaceTable = ({ measurement, chosen, onChoose }: Props) => {
  const places = markedPlaces(measurement);
  const scroller = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- the list is meant to follow the scroll position
  const rows = useVirtualizer({
    count: places.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 8,
  });
  if (places.length === 0) return <p className="py-1 text-soft">No place was found at fault.</p>;
  return (
    <div className="mt-2 text-sm">
      <div className={`${COLUMNS} heading border-b border-ink pb-0.5`} aria-hidden>
        <span>No.</span>
        <span>what</span>
        <span>x, y</span>
        <span className="text-right">contrast</span>
        <span className="text-right">seen</span>
      </div>
      <div
        ref={scroller}
        role="listbox"
        aria-label="Places found"
        tabIndex={-1}
        className="overflow-auto"
        style={{ maxHeight: MOST_TALL }}
      >
        <div className="relative" style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map(({ index, start }) => {
            const p = places[index];
            return (
              <button
                key={p.number}
                role="option"
                aria-selected={p.number === chosen}
                onClick={() => onChoose(p)}
                className={`${COLUMNS} absolute inset-x-0 w-full border-b border-hair text-left ${p.number === chosen ? 'bg-ink text-white' : 'hover:bg-slip'}`}
                style={{ top: start, height: ROW }}
              >
                <span>{p.number}</span>
                <span className="truncate">{p.what}</span>
                <span>
                  {Math.round(p.x)}, {Math.round(p.y)}
                </span>
                <span className="text-right">{amount(p.contrastPct, '%')}</span>
                <span className="text-right">
                  {p.frame === null ? `${Math.round(p.seenPct ?? 0)} %` : `frame ${p.frame}`}
                </span>
              </button>
            );
          })}
        </div>
      </div>
    </div>
  );
};
