import { useNavigate } from 'react-router';
import type { ClipDetail } from '@bevrin/contract';
import { api, sayError } from '../api/client.js';
import { Progress } from '../parts/VerdictMark.js';

/** A clip that has no readings yet, or never will: what is happening, or what happened and what to do next. */
export const ClipWaiting = ({ clip }: { clip: ClipDetail }) => {
  const [again, asked] = api.useMeasureAgainMutation();
  const [remove] = api.useRemoveClipMutation();
  const navigate = useNavigate();
  const stuck = clip.state === 'failed' || clip.state === 'interrupted';
  return (
    <div className="flex flex-col items-start gap-3 p-6">
      <h1 className="max-w-full truncate text-lg font-semibold">{clip.name}</h1>
      <Progress clip={clip} />
      {clip.error && (
        <p role="alert" className="max-w-prose">
          {clip.error}
        </p>
      )}
      {clip.state === 'measuring' && (
        <p className="text-soft">
          The readings come when the whole clip has been seen. You may leave this page.
        </p>
      )}
      {stuck && (
        <span className="flex gap-3">
          {clip.state === 'failed' && (
            <button className="button" onClick={() => void again(clip.id)}>
              Try again
            </button>
          )}
          <button
            className="button"
            onClick={() => void remove(clip.id).then(() => navigate(`/batches/${clip.batchId}`))}
          >
            Remove
          </button>
        </span>
      )}
      {asked.error && <p role="alert">{sayError(asked.error)}</p>}
    </div>
  );
};
