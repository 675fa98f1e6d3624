import type { Typed } from './harm-limit.js';

/** The two values of a limit in fields; what is no limit is not taken, and the field shows again what holds. */
export const LimitPair = ({
  words,
  unit,
  limit,
  fewerIsWorse = false,
  onSet,
}: {
  words: string;
  unit: string;
  limit: { readonly pass: number; readonly fail: number } | undefined;
  fewerIsWorse?: boolean;
  /** @returns whether what was typed is a limit, or none */
  onSet: (typed: keyof Typed, texts: Typed) => boolean;
}) => {
  const asText = (value: number | undefined): string => (value === undefined ? '' : String(value));
  const texts = { pass: asText(limit?.pass), fail: asText(limit?.fail) };
  const [passes, fails] = fewerIsWorse ? ['at least', 'fails below'] : ['at most', 'fails above'];
  const field = (label: string, typed: keyof Typed) => (
    <label className="flex items-baseline gap-1">
      <span className="text-xs text-soft">{label}</span>
      <input
        key={texts[typed]}
        aria-label={`${words}, ${label}`}
        inputMode="decimal"
        className="w-14 field text-right"
        defaultValue={texts[typed]}
        onBlur={(e) => {
          const text = e.target.value.trim();
          if (text !== texts[typed] && !onSet(typed, { ...texts, [typed]: text }))
            e.target.value = texts[typed];
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
        {field(passes, 'pass')}
        {field(fails, 'fail')}
      </span>
    </div>
  );
};
