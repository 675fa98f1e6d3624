import { Popover } from 'radix-ui';
import { useRef } from 'react';
import type { ViewingTransform } from '@bevrin/contract';
import { CubeUnusable, parseCube } from '@bevrin/core/inspect';
import { viewingText } from '../../plan/History.js';
import { useBench } from '../useBench.js';

const PLAIN_LIFT_AND_GAIN: ViewingTransform = { kind: 'liftGain', lift: 0, gain: 1 };
const RAISED: ViewingTransform = { kind: 'lift', stops: 2 };

/** Through what the picture is looked at: a `.cube` table, stops of exposure, or lift and gain. */
export const ViewingChoice = ({ onError }: { onError: (text: string) => void }) => {
  const [{ viewing, through, split }, set] = useBench();
  const file = useRef<HTMLInputElement>(null);
  const choose = (chosen: ViewingTransform | null): void => set({ viewing: chosen, through: true });
  const load = async (picked: File | undefined): Promise<void> => {
    if (!picked) return;
    const text = await picked.text();
    try {
      parseCube(text, picked.name);
      choose({ kind: 'cube', name: picked.name, text });
      onError('');
    } catch (error) {
      if (!(error instanceof CubeUnusable)) throw error;
      onError(error.message);
    }
  };
  return (
    <Popover.Root>
      <Popover.Trigger
        aria-label="Viewing transform"
        className={`button w-24 truncate ${viewing && through ? 'font-semibold' : ''}`}
        title="Viewing transform"
      >
        {viewing ? `${through ? '' : 'off: '}${viewingText(viewing)}` : 'Transform'}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          aria-label="Viewing transform"
          className="z-30 w-72 border border-ink bg-slip p-3 text-sm"
        >
          <div className="flex flex-wrap gap-2">
            <button className="button" aria-pressed={!viewing} onClick={() => choose(null)}>
              None
            </button>
            <button className="button" onClick={() => choose(RAISED)}>
              Raise exposure
            </button>
            <button className="button" onClick={() => choose(PLAIN_LIFT_AND_GAIN)}>
              Lift and gain
            </button>
            <button className="button" onClick={() => file.current?.click()}>
              Open a .cube file
            </button>
            <input
              ref={file}
              type="file"
              accept=".cube"
              aria-label="A .cube file"
              className="hidden"
              onChange={(e) => {
                void load(e.target.files?.[0]);
                e.target.value = '';
              }}
            />
          </div>
          <Amounts viewing={viewing} onChoose={choose} />
          {viewing && (
            <p className="mt-2 flex gap-4">
              <Switch name="on" on={through} onSwitch={(on) => set({ through: on })} />
              <Switch
                name="split with the plain picture"
                on={split !== null}
                onSwitch={(on) => set({ split: on ? 0.5 : null })}
              />
            </p>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
};

/** How much of what was chosen. */
const Amounts = ({
  viewing,
  onChoose,
}: {
  viewing: ViewingTransform | null;
  onChoose: (chosen: ViewingTransform) => void;
}) => (
  <>
    {viewing?.kind === 'lift' && (
      <Amount
        name="stops"
        value={viewing.stops}
        least={-4}
        most={8}
        step={0.5}
        onChange={(stops) => onChoose({ kind: 'lift', stops })}
      />
    )}
    {viewing?.kind === 'liftGain' && (
      <>
        <Amount
          name="lift"
          value={viewing.lift}
          least={-0.5}
          most={0.5}
          step={0.01}
          onChange={(lift) => onChoose({ ...viewing, lift })}
        />
        <Amount
          name="gain"
          value={viewing.gain}
          least={0.1}
          most={8}
          step={0.1}
          onChange={(gain) => onChoose({ ...viewing, gain })}
        />
      </>
    )}
  </>
);

const Switch = ({ name, on, onSwitch }: { name: string; on: boolean; onSwitch: (on: boolean) => void }) => (
  <label className="flex items-center gap-1">
    <input type="checkbox" className="accent-ink" checked={on} onChange={(e) => onSwitch(e.target.checked)} />
    {name}
  </label>
);

const Amount = ({
  name,
  value,
  least,
  most,
  step,
  onChange,
}: {
  name: string;
  value: number;
  least: number;
  most: number;
  step: number;
  onChange: (value: number) => void;
}) => (
  <label className="mt-2 grid grid-cols-[3rem_1fr_3.5rem] items-center gap-2">
    {name}
    <input
      type="range"
      className="accent-ink"
      min={least}
      max={most}
      step={step}
      value={value}
      onChange={(e) => onChange(Number(e.target.value))}
    />
    <output className="text-right">{value}</output>
  </label>
);
