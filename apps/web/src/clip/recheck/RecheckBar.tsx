import { useCommands } from '../../parts/commands.js';
import { COMPARES, type Compare } from '../bench.js';
import type { Compared } from '../compared.js';
import { COMPARE_NAMES, Ways } from '../trial/TrialBar.js';
import { useBench } from '../useBench.js';

const WAYS: readonly Compare[] = COMPARES.filter((c) => c !== 'mask');

/** How a repaired file is set against the original. */
export const RecheckBar = ({ compared }: { compared: Compared }) => {
  const [{ compare }, set] = useBench();
  useCommands('Recheck', [
    {
      name: 'Repaired, split, one above the other, or what was taken',
      keys: 'shift+c',
      run: () => set({ compare: WAYS[(WAYS.indexOf(compare) + 1) % WAYS.length] }),
    },
  ]);
  return (
    <div
      role="toolbar"
      aria-label="Recheck"
      className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-ink bg-slip px-2 py-1 text-sm"
    >
      <b className="font-semibold">Repaired, {compared.label}</b>
      <span className="text-soft">
        frames {compared.range.startFrame} to {compared.range.endFrame} of the original
      </span>
      <span className="ml-auto text-soft">hold Q: as it came</span>
      <Ways ways={WAYS} names={{ ...COMPARE_NAMES, treated: 'Repaired' }} />
    </div>
  );
};
