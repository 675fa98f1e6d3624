import { useState } from 'react';
import type { DeliverySpec, Limit, ClipReadings } from '@bevrin/contract';
import { findingName } from '../parts/names.js';
import { Distribution } from './Distribution.js';
import { keyOf, withLimit } from './draft.js';

interface Props {
  readonly draft: DeliverySpec;
  readonly saved: DeliverySpec;
  readonly clips: readonly ClipReadings[];
  readonly onChange: (draft: DeliverySpec) => void;
}

const GRID = 'grid grid-cols-[7.5rem_480px_4.4rem_4.4rem_3.4rem_3.6rem_3.6rem] items-end gap-x-2';

/** Each limit of the spec over the readings of the batch. */
export const LimitRows = ({ draft, saved, clips, onChange }: Props) => (
  <section aria-label="Limits">
    <div className={`${GRID} heading border-b border-ink pb-1`}>
      <span>Limit</span>
      <span>Readings of this batch; drag a line, or move it with the arrow keys</span>
      <span>passes to</span>
      <span>fails above</span>
      <span title="How much it matters beside the others: priority weighs it">weight</span>
      <span title="A defect that shows in fewer frames does not count">from frames</span>
      <span title="A defect that covers less of the picture does not count">from area, %</span>
    </div>
    {draft.limits.map((limit) => {
      const key = keyOf(limit);
      const change = (values: Partial<Limit>): void =>
        onChange({ ...draft, limits: draft.limits.map((l) => (l === limit ? { ...l, ...values } : l)) });
      const unread = clips.filter((c) => (c.readings[key]?.value ?? null) === null).length;
      return (
        <div key={key} className={`${GRID} border-b border-hair py-1.5`}>
          <span className="self-start text-sm leading-tight font-semibold">
            {findingName(limit)}
            <span className="block text-xs font-normal text-soft">
              {limit.unit ? `in ${limit.unit}` : 'index'}
              {unread > 0 && `, ${unread} without reading`}
            </span>
          </span>
          <Distribution
            limit={limit}
            saved={saved.limits.find((l) => keyOf(l) === key) ?? limit}
            clips={clips}
            onMove={(which, value) => onChange(withLimit(draft, key, which, value))}
          />
          <Figure
            name={`${findingName(limit)} passes to`}
            value={limit.pass}
            onSet={(v) => onChange(withLimit(draft, key, 'pass', v))}
          />
          {limit.marginalAtMost ? (
            <span
              className="py-0.5 pr-1 text-right text-sm"
              title={`Marginal at most: a person decides. Its severity is 67 at ${limit.fail} ${limit.unit}.`}
            >
              never
            </span>
          ) : (
            <Figure
              name={`${findingName(limit)} fails above`}
              value={limit.fail}
              onSet={(v) => onChange(withLimit(draft, key, 'fail', v))}
            />
          )}
          <Figure
            name={`${findingName(limit)} weight`}
            value={limit.weight}
            onSet={(v) => change({ weight: Math.max(0.1, Math.min(10, v)) })}
          />
          <Figure
            name={`${findingName(limit)} counts from frames`}
            value={limit.leastFrames}
            onSet={(v) => change({ leastFrames: Math.round(v) })}
          />
          <Figure
            name={`${findingName(limit)} counts from area`}
            value={limit.leastAreaPct}
            onSet={(v) => change({ leastAreaPct: Math.min(100, v) })}
          />
        </div>
      );
    })}
  </section>
);

/** A figure that is taken over when it is one. */
const Figure = ({ name, value, onSet }: { name: string; value: number; onSet: (v: number) => void }) => {
  const [typing, setTyping] = useState<string | null>(null);
  const text = typing ?? String(value);
  const parsed = Number(text.replace(',', '.'));
  const wrong = text.trim() === '' || !Number.isFinite(parsed) || parsed < 0;
  const take = (): void => {
    if (typing !== null && !wrong) onSet(parsed);
    setTyping(null);
  };
  return (
    <input
      aria-label={name}
      aria-invalid={wrong}
      inputMode="decimal"
      className={`w-full border bg-slip px-1 py-0.5 text-right text-sm ${wrong ? 'border-2 border-ink' : 'border-rule'}`}
      value={text}
      onChange={(e) => setTyping(e.target.value)}
      onBlur={take}
      onKeyDown={(e) => e.key === 'Enter' && take()}
    />
  );
};
