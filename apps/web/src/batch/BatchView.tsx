import { useMemo, useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { useHotkeys } from 'react-hotkeys-hook';
import { useDispatch, useSelector } from 'react-redux';
import { useNavigate, useParams } from 'react-router';
import { VERDICTS, type Clip } from '@bevrin/contract';
import { api, sayError } from '../api/client.js';
import type { State } from '../api/store.js';
import { sendFiles, uploads } from '../api/uploads.js';
import { badness, Hatches } from '../parts/severity.js';
import { BatchHead, type Sorting } from './BatchHead.js';
import { ClipTable } from './ClipTable.js';

/** Triage: every clip of a batch, the worst first. */
export const BatchView = () => {
  const { batchId = '' } = useParams();
  const { data, error, isLoading } = api.useBatchQuery(batchId);
  const [sorting, setSorting] = useState<Sorting>('worst');
  const [selected, setSelected] = useState<string | null>(null);
  const clips = useMemo(() => sorted(data?.clips ?? [], sorting), [data?.clips, sorting]);
  const navigate = useNavigate();
  const dispatch = useDispatch();
  const at = Math.max(
    0,
    clips.findIndex((c) => c.id === selected),
  );
  const move = (by: number): void =>
    setSelected(clips[Math.max(0, Math.min(clips.length - 1, selected ? at + by : 0))]?.id ?? null);
  useHotkeys('down', () => move(1), { preventDefault: true });
  useHotkeys('up', () => move(-1), { preventDefault: true });
  useHotkeys('enter', () => void (selected && navigate(`/batches/${batchId}/clips/${selected}`)));
  useHotkeys('s', () => setSorting((s) => (s === 'worst' ? 'received' : 'worst')));
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    noClick: true,
    noKeyboard: true,
    onDrop: (files) => void sendFiles(files, batchId, dispatch),
  });

  if (error) return <Full role="alert">{sayError(error)}</Full>;
  if (isLoading || !data) return <Full>Reading the batch …</Full>;
  return (
    <main {...getRootProps()} className="relative flex min-h-0 flex-1 flex-col">
      <input {...getInputProps()} aria-label="Clips to add" />
      <Hatches />
      <BatchHead
        detail={data}
        counts={VERDICTS.map(
          (v) =>
            [v, clips.filter((c) => c.state === 'measured' && c.judgement?.verdict === v).length] as const,
        )}
        sorting={sorting}
        onSort={setSorting}
        onAdd={open}
      />
      <Waiting />
      <Refusals />
      {clips.length === 0 ? (
        <Full>
          <span className="block text-lg">No clips yet.</span>
          Drop files here, press “Add files”, or give the path of a folder on the server.
        </Full>
      ) : (
        <ClipTable clips={clips} batchId={batchId} selected={selected} onSelect={setSelected} />
      )}
      {isDragActive && (
        <div className="absolute inset-3 z-10 grid place-items-center border-2 border-dashed border-ink bg-sheet/90 text-lg">
          Drop to add to this batch
        </div>
      )}
    </main>
  );
};

const sorted = (clips: readonly Clip[], sorting: Sorting): Clip[] =>
  sorting === 'received' ? [...clips] : [...clips].sort((a, b) => badness(b) - badness(a));

const Full = ({ children, role }: { children: React.ReactNode; role?: string }) => (
  <div className="grid flex-1 place-items-center p-10 text-center text-soft">
    <p role={role}>{children}</p>
  </div>
);

/** How many files have still to be sent from this page. */
const Waiting = () => {
  const waiting = useSelector((s: State) => s.uploads.waiting);
  if (waiting === 0) return null;
  return (
    <p role="status" className="border-b border-rule bg-slip px-5 py-1 text-sm">
      {waiting === 1 ? '1 file waits' : `${waiting} files wait`} to be sent. Keep this page open.
    </p>
  );
};

const Refusals = () => {
  const refused = useSelector((s: State) => s.uploads.refused);
  const dispatch = useDispatch();
  if (refused.length === 0) return null;
  return (
    <div role="alert" className="flex items-start gap-4 border-b border-ink bg-slip px-5 py-2 text-sm">
      <ul className="flex-1">
        {refused.map((text, i) => (
          <li key={i}>{text}</li>
        ))}
      </ul>
      <button className="button" onClick={() => dispatch(uploads.actions.read())}>
        Read
      </button>
    </div>
  );
};
