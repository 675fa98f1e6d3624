import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { ClipDetail, ClipPlan, Decision, Judgement, DecidedPlan } from '@bevrin/contract';
import { api, sayError } from '../api/client.js';
import { whenText } from '../parts/format.js';
import { Sizes } from '../clip/PlanList.js';
import { useCommands } from '../parts/commands.js';
import { Downloads } from '../parts/Downloads.js';
import { KeptInput } from '../parts/KeptInput.js';
import { NameField } from '../parts/NameField.js';
import { useSignature } from '../parts/signature.js';
import { VerdictMark } from '../parts/VerdictMark.js';
import { AddStep } from './AddStep.js';
import { Matching } from './Matching.js';
import { History } from './History.js';
import { StepList } from './StepList.js';
import { Waivers } from './Waivers.js';

/** The repair plan of a clip as a technician signs it. */
export const PlanView = () => {
  const { clipId = '', batchId = '' } = useParams();
  const { data: clip, error: clipError } = api.useClipQuery(clipId);
  const { data: plan, error } = api.usePlanQuery(clipId);
  const navigate = useNavigate();
  useCommands('Plan', [
    {
      name: 'Back to the clip',
      keys: 'esc',
      run: () => void navigate(`/batches/${batchId}/clips/${clipId}`),
    },
    {
      name: 'Report of this clip',
      keys: 'shift+r',
      run: () => void navigate(`/batches/${batchId}/report?clip=${clipId}`),
    },
    { name: 'Work list', keys: 'shift+w', run: () => void navigate(`/batches/${batchId}/work`) },
  ]);
  if (error ?? clipError)
    return (
      <main className="p-6">
        <p role="alert">{sayError(error ?? clipError)}</p>
      </main>
    );
  if (!plan || !clip?.judgement) return <main className="p-6 text-soft">Reading the plan …</main>;
  return <OpenPlan clip={{ ...clip, judgement: clip.judgement }} plan={plan} />;
};

const OpenPlan = ({ clip, plan }: { clip: ClipDetail & { judgement: Judgement }; plan: ClipPlan }) => {
  const [who] = useSignature();
  const [decide, { error: refused, isLoading }] = api.useDecideMutation();
  const [undo, { error: notUndone }] = api.useUndoMutation();
  const [unsigned, setUnsigned] = useState(false);
  const { decided, proposed, history } = plan;
  const frozen = decided.approved !== null;
  const make = async (decision: Decision): Promise<boolean> => {
    setUnsigned(who.trim() === '');
    if (who.trim() === '') return false;
    return !(await decide({ clipId: clip.id, who, decision })).error;
  };
  useCommands('Decisions', [
    { name: 'Take the last decision back', keys: 'mod+z', run: () => void undo(clip.id) },
    { name: 'Approve the plan', keys: 'mod+enter', run: () => !frozen && void make({ kind: 'approve' }) },
    {
      name: 'Move a step up (when it has the focus)',
      keys: 'alt+up',
      run: () => undefined,
    },
    {
      name: 'Move a step down (when it has the focus)',
      keys: 'alt+down',
      run: () => undefined,
    },
  ]);
  return (
    <main className="flex min-h-0 flex-1 flex-col bg-sheet">
      <section className="flex flex-wrap items-end gap-x-5 gap-y-2 border-b border-ink px-5 py-2 text-sm">
        <div>
          <h1 className="text-lg font-semibold">Repair plan</h1>
          <Link className="hover:underline" to={`/batches/${clip.batchId}/clips/${clip.id}`}>
            {clip.name}
          </Link>
        </div>
        <span className="flex items-baseline gap-2 pb-0.5">
          <VerdictMark verdict={decided.verdict} />
          {decided.waived.length > 0 && <span>{decided.waived.length} waived</span>}
        </span>
        <NameField missing={unsigned} />
        <label>
          <span className="heading block">Assigned to</span>
          <KeptInput
            key={decided.assignee}
            className="w-36 field"
            disabled={frozen}
            saved={decided.assignee}
            onKeep={(to) => void make({ kind: 'assign', to })}
          />
        </label>
        <Approval
          decided={decided}
          busy={isLoading}
          undoable={history.some((d) => !d.undone)}
          onDecide={(decision) => void make(decision)}
          onUndo={() => void undo(clip.id)}
        />
        {(unsigned || refused || notUndone) && (
          <p role="alert" className="w-full">
            {unsigned
              ? 'Say who decides: every decision is kept with a name.'
              : sayError(refused ?? notUndone)}
          </p>
        )}
      </section>
      <div className="grid min-h-0 flex-1 grid-cols-[1fr_24rem]">
        <div className="overflow-auto px-5 py-2">
          <StepList decided={decided} proposed={proposed} frozen={frozen} onDecide={make} />
          <Matching clip={clip} decided={decided} onDecide={make} />
          {!frozen && <AddStep decided={decided} onDecide={make} />}
        </div>
        <aside className="overflow-auto border-l border-ink px-4 py-2">
          <h2 className="heading">Three sizes of plan</h2>
          <Sizes plan={proposed} />
          <Waivers
            findings={clip.judgement.findings}
            hopeless={proposed.notRepairable}
            decided={decided}
            frozen={frozen}
            onDecide={make}
          />
          <History history={history} />
          <Downloads of={`/api/clips/${clip.id}`} />
        </aside>
      </div>
    </main>
  );
};

/** Who approved the plan and when, or the way to; and the way back. */
const Approval = ({
  decided,
  busy,
  undoable,
  onDecide,
  onUndo,
}: {
  decided: DecidedPlan;
  busy: boolean;
  undoable: boolean;
  onDecide: (decision: Decision) => void;
  onUndo: () => void;
}) => (
  <span className="ml-auto flex items-center gap-2 pb-0.5">
    {decided.approved ? (
      <>
        <span>
          approved by <b className="font-semibold">{decided.approved.who}</b>, {whenText(decided.approved.at)}
        </span>
        <button
          className="button"
          onClick={() => onDecide({ kind: 'reopen', reason: 'Opened again on the plan page.' })}
        >
          Open again
        </button>
      </>
    ) : (
      <button className="button font-semibold" disabled={busy} onClick={() => onDecide({ kind: 'approve' })}>
        Approve
      </button>
    )}
    <button className="button" disabled={!undoable} onClick={onUndo}>
      Take back
    </button>
  </span>
);
