import type { DeliverySpec, RequiredFacts } from '@bevrin/contract';
import { FACT_NAMES } from './draft.js';

type Key = keyof RequiredFacts;

const WORDS: Partial<Record<Key, readonly string[]>> = {
  scan: ['progressive', 'interlaced'],
  range: ['limited', 'full'],
};

/** What of a fact is asked for, as a person types it; nothing where it may be anything. */
const asText = (value: RequiredFacts[Key]): string =>
  value === undefined ? '' : Array.isArray(value) ? value.join(', ') : value === true ? 'yes' : String(value);

/** Facts that the delivery asks for; what is left empty may be anything. */
export const Facts = ({
  draft,
  onChange,
}: {
  draft: DeliverySpec;
  onChange: (draft: DeliverySpec) => void;
}) => {
  const set = (key: Key, text: string): void => {
    const { [key]: _, ...others } = draft.requires;
    const value = valueOf(key, text.trim());
    onChange({ ...draft, requires: value === undefined ? others : { ...others, [key]: value } });
  };
  return (
    <section aria-label="Facts asked for" className="py-3 text-sm">
      <h2 className="heading border-b border-ink pb-1">Facts asked for; empty may be anything</h2>
      <div className="grid max-w-[56rem] grid-cols-4 gap-x-4 gap-y-2 pt-2">
        {(Object.keys(FACT_NAMES) as Key[]).map((key) => (
          <label key={key}>
            <span className="block text-xs text-soft">{FACT_NAMES[key]}</span>
            {key === 'constantFrameRate' || WORDS[key] ? (
              <select
                className="w-full field"
                value={asText(draft.requires[key])}
                onChange={(e) => set(key, e.target.value)}
              >
                <option value="">anything</option>
                {(WORDS[key] ?? ['yes']).map((w) => (
                  <option key={w}>{w}</option>
                ))}
              </select>
            ) : (
              <input
                key={asText(draft.requires[key])}
                className="w-full field"
                defaultValue={asText(draft.requires[key])}
                placeholder={key === 'frameRates' ? '25/1, 50/1' : ''}
                onBlur={(e) => {
                  const [text, old] = [e.target.value.trim(), asText(draft.requires[key])];
                  // What is no figure is not taken: the field shows again what holds.
                  if (text !== '' && valueOf(key, text) === undefined) e.target.value = old;
                  else if (text !== old) set(key, text);
                }}
              />
            )}
          </label>
        ))}
      </div>
    </section>
  );
};

/** What was typed, as the spec holds it; `undefined` for nothing and for what is none. */
const valueOf = (key: Key, text: string): RequiredFacts[Key] => {
  if (text === '') return undefined;
  if (key === 'constantFrameRate') return true;
  if (WORDS[key]) return text as 'progressive';
  if (key === 'frameRates') {
    const rates = text.split(/[,;\s]+/).map((r) => (r.includes('/') ? r : `${r}/1`));
    return rates.every((r) => /^\d+\/[1-9]\d*$/.test(r)) ? rates : undefined;
  }
  const figure = Number(text.replace(',', '.'));
  return Number.isFinite(figure) && figure >= 0 ? figure : undefined;
};
