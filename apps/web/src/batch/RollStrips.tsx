import { useMemo } from 'react';
import { Link } from 'react-router';
import type { BesideFinding, Clip } from '@bevrin/contract';
import { COMPARED, medianWithout, NEIGHBOUR_FIGURES, rollsOf, type Roll } from '@bevrin/core/scoring';
import { useSize } from '../parts/useSize.js';

const LANE = 56;
const GUTTER = 150;
const END = 60;
/** Dots that would lie over each other stand on so many lines. */
const LINES = 3;
const DOT = 9;

interface Props {
  readonly clips: readonly Clip[];
  /** The whole batch: a filter hides dots, it does not change what the others are. */
  readonly all: readonly Clip[];
  readonly batchId: string;
  readonly beside: ReadonlyMap<string, readonly BesideFinding[]>;
}

/** The clips of each roll on strips of softness, noise and level: what does not belong stands apart. */
export const RollStrips = ({ clips, all, batchId, beside }: Props) => {
  const rolls = useMemo(() => rollsOf(all), [all]);
  const shown = useMemo(() => new Map(clips.map((c) => [c.id, c])), [clips]);
  if (rolls.length === 0)
    return (
      <p className="grid flex-1 place-items-center p-10 text-center text-soft">
        No roll has four measured clips yet. Clips belong together by the first word of their names.
      </p>
    );
  return (
    <div className="min-h-0 flex-1 overflow-auto bg-sheet px-5 pb-6">
      <p className="pt-2 text-xs text-soft">
        A dot for each clip; black fails and grey is marginal beside the others; the line is their median.
      </p>
      {rolls.map((roll) => (
        <section key={roll.name} aria-label={`Roll ${roll.name}`} className="pt-3">
          <h2 className="heading border-b border-ink pb-1">
            {roll.name}{' '}
            <span className="font-normal text-soft">
              {Math.max(...Object.values(roll.values).map((v) => v.length))} clips
            </span>
          </h2>
          {COMPARED.map((compared) => (
            <Strip
              key={compared.figure}
              compared={compared}
              values={roll.values[compared.figure]}
              shown={shown}
              batchId={batchId}
              beside={beside}
            />
          ))}
        </section>
      ))}
    </div>
  );
};

/** A clip on a strip, and what is told of it there. */
interface Dot {
  readonly clip: Clip;
  readonly value: number;
  readonly told: BesideFinding | undefined;
  /** Which of the lines it stands on: the same whatever is filtered. */
  readonly line: number;
}

const FILL = { pass: 'bg-sheet', marginal: 'bg-rule', fail: 'bg-ink', incomplete: 'bg-sheet' };

const Strip = ({
  compared: { figure, title, unit, unseen },
  values,
  shown,
  batchId,
  beside,
}: {
  compared: (typeof COMPARED)[number];
  values: Roll['values'][keyof Roll['values']];
  shown: ReadonlyMap<string, Clip>;
  batchId: string;
  beside: Props['beside'];
}) => {
  const [box, { width }] = useSize<HTMLDivElement>();
  const along = (v: number): number => (figure === 'level' ? v : Math.log(Math.max(unseen, v)));
  const isKnown = values.length > 0;
  const [low, high] = isKnown ? [along(values[0].value), along(values[values.length - 1].value)] : [0, 0];
  const room = Math.max(0, width - GUTTER - END);
  const x = (v: number): number =>
    GUTTER + (high > low ? (room * (along(v) - low)) / (high - low) : room / 2);
  const median = isKnown ? medianWithout(values) : 0;
  const dots = values.flatMap(({ id, value }, i): Dot[] => {
    const clip = shown.get(id);
    const told = beside.get(id)?.find((b) => NEIGHBOUR_FIGURES[b.name] === figure);
    return clip ? [{ clip, value, told, line: i % LINES }] : [];
  });
  return (
    <div ref={box} className="relative border-b border-hair text-xs" style={{ height: LANE }}>
      <span className="absolute left-0" style={{ top: 4, width: GUTTER - 16 }}>
        {title}
        <span className="block text-soft">
          {isKnown ? `median ${figureText(median)} ${unit}` : 'not measured on this roll'}
        </span>
        {isKnown && high > low && (
          <span className="block text-soft">
            {values[0].value < unseen ? `under ${unseen}` : figureText(values[0].value)} to{' '}
            {figureText(values[values.length - 1].value)} {unit}
          </span>
        )}
      </span>
      {isKnown && width > 0 && (
        <>
          <span
            className="absolute border-l-2 border-ink"
            style={{ left: x(median), top: 6, height: LANE - 20 }}
            title={`median ${figureText(median)} ${unit}`}
          />
          {dots.map(({ clip: { id, name }, value, told, line }) => (
            <Link
              key={id}
              to={`/batches/${batchId}/clips/${id}`}
              tabIndex={told ? 0 : -1}
              aria-label={`${name}: ${title.toLowerCase()} ${figureText(value)} ${unit}${told ? `, ${told.verdict}` : ''}`}
              title={`${name}: ${figureText(value)} ${unit}`}
              className={`absolute rounded-full border border-ink ${FILL[told?.verdict ?? 'pass']}`}
              style={{ left: x(value) - DOT / 2, top: 8 + line * 10, width: DOT, height: DOT }}
            />
          ))}
          <Names dots={dots.filter((d) => d.told)} unit={unit} x={x} width={width} />
        </>
      )}
    </div>
  );
};

/** Names stand under the dots that do not belong, as far as there is room for them. */
const Names = ({
  dots,
  unit,
  x,
  width,
}: {
  dots: readonly Dot[];
  unit: string;
  x: (v: number) => number;
  width: number;
}) => {
  const wide = 190;
  let taken = -Infinity;
  return dots.map(({ clip: { id, name }, value }) => {
    const left = Math.max(GUTTER, Math.min(width - wide, x(value) - wide / 2));
    if (left < taken) return null;
    taken = left + wide + 6;
    return (
      <span
        key={id}
        aria-hidden
        className="absolute truncate text-center"
        style={{ left, bottom: 0, width: wide }}
      >
        {name.replace(/^[^_. -]+[_ -]+|\.[^.]*$/g, '')}, {figureText(value)} {unit}
      </span>
    );
  });
};

const figureText = (value: number): string => String(Number(value.toPrecision(2)));
