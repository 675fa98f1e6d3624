import { useCommands } from '../../parts/commands.js';
import { COMPARES, TAKEN_GAIN, type Compare } from '../bench.js';
import { useBench } from '../useBench.js';
import { othersOf, runLabel, triedName } from './words.js';
import type { OpenTrial, Trying } from './useTrying.js';

/** What people call each way. */
export const COMPARE_NAMES: Record<Compare, string> = {
  treated: 'Treated',
  split: 'Split',
  above: 'Above each other',
  taken: `Taken ×${TAKEN_GAIN}`,
  mask: 'Mask',
};

/** Ways to set one picture against another, one of them chosen. */
export const Ways = ({
  ways,
  names = COMPARE_NAMES,
}: {
  ways: readonly Compare[];
  names?: Record<Compare, string>;
}) => {
  const [{ compare }, set] = useBench();
  return (
    <span role="group" aria-label="How it is compared" className="flex">
      {ways.map((c) => (
        <button
          key={c}
          aria-pressed={compare === c}
          onClick={() => set({ compare: c })}
          className="border-b-2 border-transparent px-1.5 py-0.5 aria-pressed:border-ink aria-pressed:font-semibold"
        >
          {names[c]}
        </button>
      ))}
    </span>
  );
};

const keyOf = ({ trialId, run }: { trialId: string; run: number }): string => `${trialId} ${run}`;

/** Which setting is looked at, and how it is set against the frame as it came. */
interface Props {
  readonly open: OpenTrial;
  readonly trying: Trying;
  readonly onChoose: (run: number) => void;
}

export const TrialBar = ({ open, trying, onChoose }: Props) => {
  const [{ compare }, set] = useBench();
  const { trial, run, job } = open;
  const masked = trial.runs[run].mask !== null;
  const ways = COMPARES.filter((c) => c !== 'mask' || masked);
  const others = othersOf(trying.trials, open);
  const by = (step: number): void => onChoose(Math.max(0, Math.min(trial.runs.length - 1, run + step)));
  useCommands('Trial', [
    { name: 'Next setting of the trial', keys: 'period', run: () => by(1) },
    { name: 'Setting before', keys: 'comma', run: () => by(-1) },
    {
      name: 'Treated, split, one above the other, or what was taken',
      keys: 'shift+c',
      run: () => set({ compare: ways[(ways.indexOf(compare) + 1) % ways.length] }),
    },
  ]);
  return (
    <div
      role="toolbar"
      aria-label="Trial"
      className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-ink bg-slip px-2 py-1 text-sm"
    >
      <b className="font-semibold">{triedName(job.treatment)}</b>
      <span data-testid="trial-run">{runLabel(trial, run)}</span>
      <span className="text-soft">
        frames {trial.range.startFrame} to {trial.range.endFrame}
      </span>
      <label className="ml-auto flex items-center gap-1">
        <span className="text-soft" title="hold Q to see it">
          hold Q:
        </span>
        <select
          className="max-w-44 field"
          aria-label="Set against"
          value={trying.against ? keyOf(trying.against) : ''}
          onChange={(e) => {
            trying.setAgainst(others.find((o) => keyOf(o) === e.target.value) ?? null);
            e.target.blur();
          }}
        >
          <option value="">as it came</option>
          {others.map((o) => (
            <option key={keyOf(o)} value={keyOf(o)}>
              {o.label}
            </option>
          ))}
        </select>
      </label>
      <Ways ways={ways} />
    </div>
  );
};
