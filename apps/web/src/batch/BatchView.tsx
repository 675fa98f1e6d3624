import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { useDispatch, useSelector } from 'react-redux';
import { useParams, useSearchParams } from 'react-router';
import { VERDICTS, type BatchDetail, type Clip } from '@bevrin/contract';
import { clipsNamed } from '@bevrin/core/names';
import { api, sayError } from '../api/client.js';
import type { State } from '../store.js';
import { sendFiles, uploads } from './uploads.js';
import { soon } from '../clip/picture/pictures.js';
import { useBatchCommands } from './useBatchCommands.js';
import { Hatches } from '../parts/severity.js';
import { BatchHead } from './BatchHead.js';
import { ClipTable } from './ClipTable.js';
import { ContactSheet } from './ContactSheet.js';
import { FilterBar } from './FilterBar.js';
import { chosenClips, filtersFrom, grouped, withFilter, type Filters } from './filters.js';
import { Matrix } from './Matrix.js';
import { DroppedRepairs, type DroppedRepair } from './Returns.js';
import { SelectionBar } from './SelectionBar.js';
import { RollStrips } from './RollStrips.js';
import { useBeside } from './useBeside.js';
import { useSelection } from './useSelection.js';

/** Triage: every clip of a batch, the worst first. */
export const BatchView = () => {
  const { batchId = '' } = useParams();
  const { data, error, isLoading } = api.useBatchQuery(batchId);
  if (error) return <Full role="alert">{sayError(error)}</Full>;
  if (isLoading || !data) return <Full>Reading the batch …</Full>;
  return <OpenBatch key={batchId} detail={data} />;
};

const OpenBatch = ({ detail }: { detail: BatchDetail }) => {
  const { batch, clips } = detail;
  const [search, setSearch] = useSearchParams();
  const filters = useMemo(() => filtersFrom(search), [search]);
  const chosen = useMemo(() => chosenClips(clips, filters), [clips, filters]);
  const lines = useMemo(() => grouped(chosen, filters.group), [chosen, filters.group]);
  // Groups change the order in which the keys go.
  const shown = useMemo(() => lines.flatMap((l) => (l.kind === 'clip' ? [l.clip] : [])), [lines]);
  const selection = useSelection(useMemo(() => shown.map((c) => c.id), [shown]));
  const beside = useBeside(clips);
  const marked = shown.filter((c) => selection.chosen.has(c.id));
  const searchField = useRef<HTMLInputElement>(null);
  const [columns, setColumns] = useState(1);
  const dispatch = useDispatch();
  const filter = useCallback(
    (name: keyof Filters, value: string): void =>
      setSearch((now) => withFilter(now, name, value), { replace: true }),
    [setSearch],
  );
  const [dropped, setDropped] = useState<readonly DroppedRepair[]>([]);
  const clear = (): void => setSearch({}, { replace: true });
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    noClick: true,
    noKeyboard: true,
    onDrop: (files) => {
      const measured = clips.filter((c) => c.state === 'measured');
      const repairs = files.map((file) => ({ file, clip: repairOf(file.name, measured) }));
      if (repairs.some((r) => r.clip)) setDropped(repairs);
      else void sendFiles(files, batch.id, dispatch);
    },
  });
  const contact = filters.layout === 'contact';
  useBatchCommands({ detail, filters, filter, clear, selection, columns, open, searchField });
  const { cursor } = selection;
  useEffect(() => {
    if (cursor) soon(cursor);
    // The worst clip is what most people open first.
    else if (shown[0]?.facts) soon(shown[0].id);
  }, [cursor, shown]);
  return (
    <main {...getRootProps()} className="relative flex min-h-0 flex-1 flex-col">
      <input {...getInputProps()} aria-label="Clips to add" />
      <Hatches />
      <BatchHead
        detail={detail}
        counts={VERDICTS.map((v) => [v, clips.filter((c) => c.standing?.verdict === v).length] as const)}
        onAdd={open}
      />
      {dropped.length > 0 && (
        <DroppedRepairs
          key={dropped.map((d) => d.file.name).join('/')}
          dropped={dropped}
          clips={clips.filter((c) => c.state === 'measured')}
          onDone={() => setDropped([])}
          onNew={(files) => files.length > 0 && void sendFiles(files, batch.id, dispatch)}
        />
      )}
      <Waiting />
      <Refusals />
      {clips.length === 0 ? (
        <Full>
          <span className="block text-lg">No clips yet.</span>
          Drop files here, press “Add files”, or give the path of a folder on the server.
        </Full>
      ) : (
        <>
          <FilterBar
            clips={clips}
            filters={filters}
            left={shown.length}
            search={searchField}
            onFilter={filter}
            onClear={clear}
          />
          {shown.filter((c) => c.summary).length > 1 && (
            <Matrix clips={shown} cursor={cursor} onChoose={selection.choose} />
          )}
          {shown.length === 0 ? (
            <Full>No clip is left by this filter.</Full>
          ) : filters.layout === 'rolls' ? (
            <RollStrips clips={shown} all={clips} batchId={batch.id} beside={beside} />
          ) : contact ? (
            <ContactSheet lines={lines} batchId={batch.id} selection={selection} onColumns={setColumns} />
          ) : (
            <ClipTable lines={lines} batchId={batch.id} selection={selection} beside={beside} />
          )}
          {marked.length > 1 && <SelectionBar clips={marked} batchId={batch.id} onDone={selection.none} />}
        </>
      )}
      {isDragActive && (
        <div className="absolute inset-3 z-10 grid place-items-center border-2 border-dashed border-ink bg-sheet/90 text-lg">
          Drop to add to this batch
        </div>
      )}
    </main>
  );
};

/** The clip that a dropped file was repaired from by its name; the very name of a clip is that clip once more. */
const repairOf = (name: string, clips: readonly Clip[]): Clip | null => {
  const named = clipsNamed(name, clips);
  return named.length === 1 && named[0].name !== name ? named[0] : null;
};

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
