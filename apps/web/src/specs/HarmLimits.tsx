import { HARM_NAMES, KEPT_FIGURES, type DeliverySpec, type HarmName } from '@bevrin/contract';
import { typedLimit, withNamed } from './harm-limit.js';
import { LimitPair } from './LimitPair.js';

/** Figures that say what was asked for, not what it cost, have no limit. */
const NO_LIMIT: readonly HarmName[] = ['takenStructurePct'];

const ORDER = HARM_NAMES.map(([name]) => name);

/** What a repair may cost: each figure of harm passes to one value and fails beyond another; empty may be anything. */
export const HarmLimits = ({
  draft,
  onChange,
}: {
  draft: DeliverySpec;
  onChange: (draft: DeliverySpec) => void;
}) => {
  const limits = draft.harm;
  return (
    <section aria-label="What a repair may cost" className="py-3 text-sm">
      <h2 className="heading border-b border-ink pb-1">What a repair may cost; empty may be anything</h2>
      <div className="grid max-w-[56rem] grid-cols-3 gap-x-6 gap-y-1 pt-2">
        {HARM_NAMES.filter(([name]) => !NO_LIMIT.includes(name)).map(([name, words, unit]) => (
          <LimitPair
            key={name}
            words={words}
            unit={unit}
            limit={limits.find((l) => l.name === name)}
            fewerIsWorse={KEPT_FIGURES.includes(name)}
            onSet={(typed, texts) => {
              const limit = typedLimit(name, typed, texts);
              if (limit === undefined) return false;
              onChange({ ...draft, harm: withNamed(limits, name, limit, ORDER) });
              return true;
            }}
          />
        ))}
      </div>
    </section>
  );
};
