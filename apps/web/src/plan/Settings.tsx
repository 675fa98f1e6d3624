import { useState } from 'react';
import type { DecidedStep, Step } from '@bevrin/contract';
import { settingName, settingTexts } from '../parts/format.js';

interface Props {
  readonly step: DecidedStep;
  readonly proposed: Step | undefined;
  readonly frozen: boolean;
  readonly onSet: (settings: Step['settings']) => void;
}

/** The settings to begin with: figures and words can be changed, lists are shown by their length. */
export const Settings = ({ step, proposed, frozen, onSet }: Props) => {
  const entries = Object.entries(step.settings);
  const plain = entries.filter(([, v]) => typeof v === 'number');
  const rest = Object.fromEntries(entries.filter(([, v]) => typeof v !== 'number'));
  return (
    <div className="flex flex-wrap items-end gap-x-3 gap-y-1 py-1">
      {plain.map(([key, value]) => (
        <Setting
          key={`${key} ${String(value)}`}
          name={settingName(key)}
          value={value as number}
          proposed={proposed?.settings[key]}
          frozen={frozen}
          onSet={(v) => onSet({ [key]: v })}
        />
      ))}
      <span className="pb-0.5 text-soft">{settingTexts(rest).join(' · ')}</span>
    </div>
  );
};

const Setting = ({
  name,
  value,
  proposed,
  frozen,
  onSet,
}: {
  name: string;
  value: number;
  proposed: Step['settings'][string] | undefined;
  frozen: boolean;
  onSet: (value: number) => void;
}) => {
  const [text, setText] = useState(String(value));
  const parsed = Number(text.replace(',', '.'));
  const usable = text.trim() !== '' && Number.isFinite(parsed) && parsed >= 0;
  const take = (): void => {
    if (!usable) setText(String(value));
    else if (parsed !== value) onSet(parsed);
  };
  return (
    <label>
      <span className="block text-xs text-soft">
        {name}
        {proposed !== undefined && proposed !== value && `, proposed ${String(proposed)}`}
      </span>
      <input
        inputMode="decimal"
        aria-invalid={!usable}
        className="w-24 field text-right"
        disabled={frozen}
        value={text}
        onChange={(e) => setText(e.target.value)}
        onBlur={take}
        onKeyDown={(e) => e.key === 'Enter' && take()}
      />
    </label>
  );
};
