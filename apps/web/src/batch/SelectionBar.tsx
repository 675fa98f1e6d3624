import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { Clip } from '@bevrin/contract';
import { api, sayError } from '../api/client.js';
import { useSignature } from '../parts/signature.js';

interface Props {
  readonly clips: readonly Clip[];
  readonly batchId: string;
  readonly onDone: () => void;
}

/** What can be done with several clips at once. */
export const SelectionBar = ({ clips, batchId, onDone }: Props) => {
  const [decide] = api.useDecideMutation();
  const [again] = api.useMeasureAgainMutation();
  const [who, sign] = useSignature();
  const [to, setTo] = useState('');
  const [said, setSaid] = useState('');
  const navigate = useNavigate();
  const measured = clips.filter((c) => c.summary);
  const each = async (
    of: readonly Clip[],
    what: string,
    how: (clip: Clip) => Promise<{ error?: Parameters<typeof sayError>[0] }>,
  ): Promise<void> => {
    let failed = '';
    let done = 0;
    for (const clip of of) {
      const { error } = await how(clip);
      if (error) failed ||= `${clip.name}: ${sayError(error)}`;
      else done++;
    }
    setSaid(`${done} of ${of.length} ${what}.${failed ? ` ${failed}` : ''}`);
  };
  return (
    <form
      aria-label="Chosen clips"
      className="flex flex-wrap items-center gap-3 border-t border-ink bg-slip px-5 py-1.5 text-sm"
      onSubmit={(e) => {
        e.preventDefault();
        void each(measured, to ? `assigned to ${to}` : 'assigned to nobody', (clip) =>
          decide({ clipId: clip.id, who, decision: { kind: 'assign', to } }),
        );
      }}
    >
      <b className="font-semibold">{clips.length} clips chosen</b>
      <label className="flex items-center gap-1.5">
        Assign to
        <input
          className="w-32 border border-rule bg-sheet px-1.5 py-0.5"
          value={to}
          onChange={(e) => setTo(e.target.value)}
        />
      </label>
      <label className="flex items-center gap-1.5">
        Your name
        <input
          required
          className="w-28 border border-rule bg-sheet px-1.5 py-0.5"
          value={who}
          onChange={(e) => sign(e.target.value)}
        />
      </label>
      <button className="button" disabled={measured.length === 0}>
        Assign
      </button>
      <button
        type="button"
        className="button"
        onClick={() => void each(clips, 'measured again', (clip) => again(clip.id))}
      >
        Measure again
      </button>
      {clips.length === 2 && (
        <button
          type="button"
          className="button"
          onClick={() => void navigate(`/batches/${batchId}/clips/${clips[0].id}?beside=${clips[1].id}`)}
        >
          Look at both
        </button>
      )}
      <span role="status">{said}</span>
      <button type="button" className="ml-auto underline underline-offset-4" onClick={onDone}>
        Choose none
      </button>
    </form>
  );
};
