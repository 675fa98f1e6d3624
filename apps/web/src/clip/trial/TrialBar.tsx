import { useCommands } from '../../parts/commands.js';
import { COMPARES, TAKEN_GAIN, type Compare } from '../bench.js';
import { useBench } from '../useBench.js';
import { runLabel, triedName } from './words.js';
import type { OpenTrial } from './useTrying.js';

const COMPARE_NAMES: Record<Compare, string> = {
  treated: 'Treated',
  split: 'Split',
  above: 'Above each other',
  taken: `Taken ×${TAKEN_GAIN}`,
  mask: 'Mask',
};

/** Which setting is looked at, and how it is set against the frame as it came. */
export const TrialBar = ({ open, onChoose }: { open: OpenTrial; onChoose: (run: number) => void }) => {
  const [{ compare }, set] = useBench();
  const { trial, run, job } = open;
  const masked = trial.runs[run].mask !== null;
  const ways = COMPARES.filter((c) => c !== 'mask' || masked);
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
      <span role="group" aria-label="How it is compared" className="ml-auto flex">
        {ways.map((c) => (
          <button
            key={c}
            aria-pressed={compare === c}
            onClick={() => set({ compare: c })}
            className="border-b-2 border-transparent px-1.5 py-0.5 aria-pressed:border-ink aria-pressed:font-semibold"
          >
            {COMPARE_NAMES[c]}
          </button>
        ))}
      </span>
      <span className="text-soft">hold Q: as it came</span>
    </div>
  );
};
