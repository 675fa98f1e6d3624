import { TREATMENT_NAMES, type ClipDetail, type DecidedPlan } from '@bevrin/contract';
import { api } from '../api/client.js';
import { useBeside } from '../batch/useBeside.js';
import { BesideLines } from '../parts/BesideLines.js';
import type { Decide } from './decide.js';

/** What would bring the clip to the others of its roll; a treatment that does it is added to the plan as it says. */
export const Matching = ({
  clip,
  decided,
  onDecide,
}: {
  clip: ClipDetail;
  decided: DecidedPlan;
  onDecide: Decide;
}) => {
  const { data: batch } = api.useBatchQuery(clip.batchId);
  const beside = useBeside(batch?.clips).get(clip.id) ?? [];
  return (
    <BesideLines
      beside={beside}
      withMatch
      action={({ match: { treatment, settings, words } }) =>
        treatment !== null &&
        decided.approved === null &&
        !decided.steps.some((s) => s.treatment === treatment) && (
          <button
            className="button my-1"
            onClick={() => void onDecide({ kind: 'add', treatment, reason: words, settings })}
          >
            Add “{TREATMENT_NAMES[treatment]}” to the plan
          </button>
        )
      }
    />
  );
};
