import { NameField } from '../../parts/NameField.js';
import type { Overruling } from './useOverrule.js';

interface Props {
  readonly overruling: Overruling;
  /** Whether the sheet that is open has a field for the name of its own. */
  readonly named: boolean;
}

/** Why the last decision was not kept, on whichever sheet it was made, and what it lacks. */
export const Refused = ({ overruling: { problem, unsigned }, named }: Props) =>
  problem && (
    <div role="alert" className="flex items-end gap-3 border-b border-ink bg-slip px-4 py-1.5 text-sm">
      <p className="flex-1 font-semibold">{problem}</p>
      {unsigned && !named && <NameField missing />}
    </div>
  );
