import { NameField } from '../../parts/NameField.js';
import type { Overruling } from './useOverrule.js';

/** Why the last decision was not kept, on whichever sheet it was made, and what it lacks. */
export const Refused = ({ overruling: { problem, unsigned } }: { overruling: Overruling }) =>
  problem && (
    <div role="alert" className="flex items-end gap-3 border-b border-ink bg-slip px-4 py-1.5 text-sm">
      <p className="flex-1 font-semibold">{problem}</p>
      {unsigned && <NameField missing />}
    </div>
  );
