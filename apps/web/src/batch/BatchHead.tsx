import { useState, type FormEvent } from 'react';
import { Link } from 'react-router';
import { STAGE_NAMES, STAGES, type BatchDetail, type Verdict as VerdictName } from '@bevrin/contract';
import { api, sayError } from '../api/client.js';
import { VerdictMark } from '../parts/VerdictMark.js';
import { Returns } from './Returns.js';

interface Props {
  readonly detail: BatchDetail;
  readonly counts: readonly (readonly [VerdictName, number])[];
  readonly onAdd: () => void;
}

/** What the batch is, what it must satisfy, how it stands, and how clips come in. */
export const BatchHead = ({ detail: { batch, clips }, counts, onAdd }: Props) => {
  const { data: specs } = api.useSpecsQuery();
  const [changeSpec, { error }] = api.useChangeSpecMutation();
  return (
    <section className="border-b border-ink bg-sheet px-5 py-3">
      <div className="flex flex-wrap items-baseline gap-x-6 gap-y-2">
        <h1 className="text-lg font-semibold">{batch.name}</h1>
        <span className="text-sm text-soft">{batch.production}</span>
        <span className="ml-auto flex items-baseline gap-4 text-sm">
          <span>
            {clips.length} {clips.length === 1 ? 'clip' : 'clips'}
          </span>
          {counts.map(([verdict, count]) => (
            <span key={verdict} className="flex items-baseline gap-1.5">
              <b className="font-semibold">{count}</b> <VerdictMark verdict={verdict} />
            </span>
          ))}
        </span>
      </div>
      <div className="mt-2 flex flex-wrap items-center gap-4 text-sm">
        <label className="flex items-center gap-2">
          Delivery spec
          <select
            className="field"
            value={batch.specId}
            onChange={(e) => void changeSpec({ batchId: batch.id, specId: e.target.value })}
          >
            {(specs ?? []).map((s) => (
              <option key={s.id} value={s.id}>
                {s.name}, version {s.version}
              </option>
            ))}
          </select>
        </label>
        <Link className="hover:underline" to={`/specs/${batch.specId}?batch=${batch.id}`}>
          Limits
        </Link>
        <span className="ml-auto flex items-center gap-3">
          <Link className="hover:underline" to={`/batches/${batch.id}/work`}>
            Work list
          </Link>
          <Link className="hover:underline" to={`/batches/${batch.id}/report`}>
            Report
          </Link>
          {clips.some((c) => c.drawn) && (
            <Link className="hover:underline" to={`/batches/${batch.id}/truth`}>
              Truth against reading
            </Link>
          )}
          {clips.some((c) => c.state === 'measured') && <Returns batchId={batch.id} />}
          <PathForm batchId={batch.id} />
          <button className="button" onClick={onAdd}>
            Add files
          </button>
        </span>
      </div>
      <Stages batch={batch} clips={clips} />
      {error && <p role="alert">{sayError(error)}</p>}
    </section>
  );
};

/** How far the clips of the batch have come, and whether that is late. */
const Stages = ({ batch: { dueOn }, clips }: Pick<BatchDetail, 'batch' | 'clips'>) => {
  const counts = STAGES.map((stage) => [stage, clips.filter((c) => c.stage === stage).length] as const);
  const open = clips.filter((c) => c.stage !== 'signedOff' && c.stage !== 'waived');
  const unfinished = open.filter((c) => c.standing?.verdict !== 'pass').length;
  const late = dueOn !== null && dueOn < new Date().toISOString().slice(0, 10) && unfinished > 0;
  if (clips.length === 0) return null;
  return (
    <p className="mt-2 flex flex-wrap gap-x-4 text-sm text-soft" aria-label="How far the clips have come">
      {counts.map(([stage, count]) =>
        count === 0 ? null : (
          <span key={stage}>
            <b className="font-semibold text-ink">{count}</b> {STAGE_NAMES[stage]}
          </span>
        ),
      )}
      {late && (
        <span className="font-semibold text-ink">
          overdue since {dueOn}: {unfinished} not finished
        </span>
      )}
    </p>
  );
};

const PathForm = ({ batchId }: { batchId: string }) => {
  const [path, setPath] = useState('');
  const [register, { error, isLoading }] = api.useRegisterPathMutation();
  const submit = async (event: FormEvent): Promise<void> => {
    event.preventDefault();
    const done = await register({ batchId, path });
    if (done.data) setPath('');
  };
  return (
    <form onSubmit={submit} className="relative flex items-center gap-2">
      <input
        aria-label="Path of a file or folder on the server"
        placeholder="path on the server"
        className="w-56 field"
        value={path}
        onChange={(e) => setPath(e.target.value)}
        required
      />
      <button className="button" disabled={isLoading}>
        Register
      </button>
      {error && (
        <p role="alert" className="absolute top-full right-0 z-10 mt-1 w-96 border border-ink bg-slip p-2">
          {sayError(error)}
        </p>
      )}
    </form>
  );
};
