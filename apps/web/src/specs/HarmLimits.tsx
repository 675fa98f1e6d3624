import {
  HARM_NAMES,
  KEPT_FIGURES,
  USUAL_HARM_LIMITS,
  type DeliverySpec,
  type HarmLimit,
  type HarmName,
} from '@bevrin/contract';
import { typedLimit } from './harm-limit.js';

/** Figures that say what was asked for, not what it cost, have no limit. */
const NO_LIMIT: readonly HarmName[] = ['takenStructurePct'];

/** What a repair may cost: each figure of harm passes to one value and fails beyond another; empty may be anything. */
export const HarmLimits = ({
  draft,
  onChange,
}: {
  draft: DeliverySpec;
  onChange: (draft: DeliverySpec) => void;
}) => {
  // A spec of an earlier version says nothing of harm: the usual limits hold.
  const limits = draft.harm ?? USUAL_HARM_LIMITS;
  const set: Set = (name, typed, texts) => {
    const limit = typedLimit(name, typed, texts);
    if (limit === undefined) return false;
    const order = HARM_NAMES.map(([n]) => n);
    const harm = [...limits.filter((l) => l.name !== name), ...(limit ? [limit] : [])];
    onChange({ ...draft, harm: harm.sort((x, y) => order.indexOf(x.name) - order.indexOf(y.name)) });
    return true;
  };
  return (
    <section aria-label="What a repair may cost" className="py-3 text-sm">
      <h2 className="heading border-b border-ink pb-1">What a repair may cost; empty may be anything</h2>
      <div className="grid max-w-[56rem] grid-cols-3 gap-x-6 gap-y-1 pt-2">
        {HARM_NAMES.filter(([name]) => !NO_LIMIT.includes(name)).map(([name, words, unit]) => (
          <Row
            key={name}
            name={name}
            words={words}
            unit={unit}
            limit={limits.find((l) => l.name === name)}
            onSet={set}
          />
        ))}
      </div>
    </section>
  );
};

/** @returns whether what was typed is a limit, or none */
type Set = (
  name: HarmName,
  typed: 'pass' | 'fail',
  texts: { readonly pass: string; readonly fail: string },
) => boolean;

const Row = ({
  name,
  words,
  unit,
  limit,
  onSet,
}: {
  name: HarmName;
  words: string;
  unit: string;
  limit: HarmLimit | undefined;
  onSet: Set;
}) => {
  const asText = (value: number | undefined): string => (value === undefined ? '' : String(value));
  const [pass, fail] = [asText(limit?.pass), asText(limit?.fail)];
  const [passes, fails] = KEPT_FIGURES.includes(name)
    ? ['at least', 'fails below']
    : ['at most', 'fails above'];
  const field = (label: string, typed: 'pass' | 'fail', value: string) => (
    <label className="flex items-baseline gap-1">
      <span className="text-xs text-soft">{label}</span>
      <input
        key={value}
        aria-label={`${words}, ${label}`}
        inputMode="decimal"
        className="w-14 field text-right"
        defaultValue={value}
        onBlur={(e) => {
          const text = e.target.value.trim();
          // What is no limit is not taken: the field shows again what holds.
          if (text !== value && !onSet(name, typed, { pass, fail, [typed]: text })) e.target.value = value;
        }}
      />
    </label>
  );
  return (
    <div>
      <span className="block text-xs">
        {words}
        {unit && `, ${unit}`}
      </span>
      <span className="flex gap-3">
        {field(passes, 'pass', pass)}
        {field(fails, 'fail', fail)}
      </span>
    </div>
  );
};
