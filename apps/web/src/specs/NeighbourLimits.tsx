import { NEIGHBOUR_NAMES, NEIGHBOUR_UNITS, type DeliverySpec } from '@bevrin/contract';
import { NEIGHBOUR_WORDS } from './draft.js';
import { typedNeighbour, withNamed } from './harm-limit.js';
import { LimitPair } from './LimitPair.js';

const UNITS = { '×': 'times their median', '%': '% from their median' };

/** How far a clip may differ from the other clips of its roll; empty may be anything. */
export const NeighbourLimits = ({
  draft,
  onChange,
}: {
  draft: DeliverySpec;
  onChange: (draft: DeliverySpec) => void;
}) => {
  const limits = draft.beside;
  return (
    <section aria-label="Beside the other clips of a roll" className="py-3 text-sm">
      <h2 className="heading border-b border-ink pb-1">
        Beside the other clips of a roll; empty may be anything
      </h2>
      <div className="grid max-w-[56rem] grid-cols-3 gap-x-6 gap-y-1 pt-2">
        {NEIGHBOUR_NAMES.map((name) => (
          <LimitPair
            key={name}
            words={NEIGHBOUR_WORDS[name]}
            unit={UNITS[NEIGHBOUR_UNITS[name]]}
            limit={limits.find((l) => l.name === name)}
            onSet={(typed, texts) => {
              const limit = typedNeighbour(name, typed, texts);
              if (limit === undefined) return false;
              onChange({ ...draft, beside: withNamed(limits, name, limit, NEIGHBOUR_NAMES) });
              return true;
            }}
          />
        ))}
      </div>
    </section>
  );
};
