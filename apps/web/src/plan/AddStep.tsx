import { useState } from 'react';
import { TREATMENT_NAMES, TREATMENTS, type DecidedPlan, type TreatmentName } from '@bevrin/contract';
import { Reason } from '../parts/Reason.js';
import type { Decide } from './decide.js';

/** A treatment that the rules did not propose, with the reason why a person wants it. */
export const AddStep = ({ decided, onDecide }: { decided: DecidedPlan; onDecide: Decide }) => {
  const free = TREATMENTS.filter((t) => !decided.steps.some((s) => s.treatment === t));
  const [chosen, setChosen] = useState<TreatmentName | ''>('');
  return (
    <section aria-label="Add a step" className="flex items-center gap-2 py-3 text-sm">
      <select
        aria-label="Treatment to add"
        className="field"
        value={chosen}
        onChange={(e) => setChosen(e.target.value as TreatmentName | '')}
      >
        <option value="">Add a step by hand …</option>
        {free.map((t) => (
          <option key={t} value={t}>
            {TREATMENT_NAMES[t]}
          </option>
        ))}
      </select>
      {chosen !== '' && (
        <div className="flex-1">
          <Reason
            label={`Why ${TREATMENT_NAMES[chosen]} is added`}
            action="Add it"
            onGive={async (reason) => {
              if (await onDecide({ kind: 'add', treatment: chosen, reason })) setChosen('');
            }}
          />
        </div>
      )}
    </section>
  );
};
