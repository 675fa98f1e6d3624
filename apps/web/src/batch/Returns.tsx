import { useState } from 'react';
import { Link } from 'react-router';
import type { Clip, ReturnedFiles } from '@bevrin/contract';
import { sayError } from '../api/client.js';
import { recheckApi } from '../api/rechecks.js';
import { NameField } from '../parts/NameField.js';
import { useSignature } from '../parts/signature.js';

/** Repaired files that lie in a folder of the house: each goes to the clip that it was made of. */
export const Returns = ({ batchId }: { batchId: string }) => {
  const [open, setOpen] = useState(false);
  return (
    <details className="relative" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="cursor-pointer hover:underline">Return repairs</summary>
      {open && <ReturnFolder batchId={batchId} />}
    </details>
  );
};

const ReturnFolder = ({ batchId }: { batchId: string }) => {
  const [who] = useSignature();
  const [path, setPath] = useState('');
  const [bring, { data, error, isLoading }] = recheckApi.useReturnFolderMutation();
  return (
    <div className="absolute top-full right-0 z-10 mt-1 w-[30rem] border border-ink bg-sheet p-3">
      <form
        className="flex items-end gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          void bring({ batchId, who, path });
        }}
      >
        <label className="flex-1">
          <span className="heading block">File or folder of repaired files</span>
          <input
            className="w-full field"
            placeholder="path on the server"
            value={path}
            onChange={(e) => setPath(e.target.value)}
            required
          />
        </label>
        <NameField missing={who === ''} />
        <button className="button" disabled={isLoading}>
          {isLoading ? 'Looking…' : 'Return them'}
        </button>
      </form>
      <p className="pt-2 text-soft">
        Each goes to the clip whose name it begins with, or else to the one that it looks like. Files can be
        dropped on the batch as well.
      </p>
      {error && (
        <p role="alert" className="pt-2 font-semibold">
          {sayError(error)}
        </p>
      )}
      {data && <Brought key={path} batchId={batchId} who={who} files={data} />}
    </div>
  );
};

const Brought = ({
  batchId,
  who,
  files: { returned, asked, refused },
}: {
  batchId: string;
  who: string;
  files: ReturnedFiles;
}) => (
  <div aria-label="What was returned" role="group">
    {returned.length > 0 && (
      <table className="mt-2 w-full" aria-label="Returned">
        <tbody>
          {returned.map((r) => (
            <tr key={r.file} className="border-b border-hair">
              <td className="max-w-48 truncate py-0.5" title={r.file}>
                {r.file}
              </td>
              <td className="pl-3">
                <Link className="underline" to={`/batches/${batchId}/clips/${r.clipId}`}>
                  {r.name}
                </Link>
              </td>
              <td className="pl-3 text-soft">{r.by === 'name' ? 'by its name' : 'by its picture'}</td>
            </tr>
          ))}
        </tbody>
      </table>
    )}
    {asked.map((a) => (
      <Asked key={a.path} who={who} {...a} />
    ))}
    {refused.map((why) => (
      <p key={why} role="alert" className="pt-1">
        {why}
      </p>
    ))}
  </div>
);

/** A file of which a person must say which clip it is. */
const Asked = ({
  who,
  file,
  path,
  because,
  candidates,
}: ReturnedFiles['asked'][number] & { who: string }) => {
  const [clipId, setClipId] = useState('');
  const [send, { data, error, isLoading }] = recheckApi.useReturnFileMutation();
  return (
    <div className="border-b border-hair py-1">
      <p>
        <b className="font-semibold">{file}</b>: {because}
      </p>
      {data ? (
        <p role="status">Returned to {candidates.find((c) => c.clipId === data.clipId)?.name}.</p>
      ) : (
        <p className="flex gap-2 pt-0.5">
          <select
            className="min-w-0 flex-1 field"
            aria-label={`Clip of ${file}`}
            value={clipId}
            onChange={(e) => setClipId(e.target.value)}
          >
            <option value="">Which clip is it of?</option>
            {candidates.map((c) => (
              <option key={c.clipId} value={c.clipId}>
                {c.name}
              </option>
            ))}
          </select>
          <button
            className="button"
            disabled={clipId === '' || isLoading}
            onClick={() => void send({ clipId, who, path })}
          >
            Return it
          </button>
        </p>
      )}
      {error && <p role="alert">{sayError(error)}</p>}
    </div>
  );
};

const NEW_CLIP = 'new';

/** A dropped file, and the clip that its name says it was repaired from. */
export interface DroppedRepair {
  readonly file: File;
  readonly clip: Clip | null;
}

/** Files were dropped of which some have the names of clips that are here: repaired, or new? */
export const DroppedRepairs = ({
  dropped,
  clips,
  onDone,
  onNew,
}: {
  dropped: readonly DroppedRepair[];
  clips: readonly Clip[];
  onDone: () => void;
  onNew: (files: File[]) => void;
}) => {
  const [who] = useSignature();
  const [chosen, setChosen] = useState<readonly string[]>(dropped.map((d) => d.clip?.id ?? NEW_CLIP));
  const [send, { isLoading }] = recheckApi.useReturnFileMutation();
  const [failed, setFailed] = useState<readonly string[]>([]);
  const go = async (): Promise<void> => {
    const wrong: string[] = [];
    onNew(dropped.filter((_, i) => chosen[i] === NEW_CLIP).map((d) => d.file));
    for (const [i, { file }] of dropped.entries()) {
      if (chosen[i] === NEW_CLIP) continue;
      await send({ clipId: chosen[i], who, file })
        .unwrap()
        .catch((error: unknown) => wrong.push(`${file.name}: ${sayError(error as never)}`));
    }
    setFailed(wrong);
    if (wrong.length === 0) onDone();
  };
  return (
    <section aria-label="Dropped files" className="border-b border-ink bg-slip px-5 py-2 text-sm">
      <p className="flex items-end gap-3">
        <span className="flex-1">
          {dropped.length === 1
            ? 'This file has the name of a clip that is here. Is it repaired?'
            : 'Some of these files have the names of clips that are here. Which are repaired?'}
        </span>
        <NameField missing={who === ''} />
        <button className="button font-semibold" disabled={isLoading} onClick={() => void go()}>
          {isLoading ? 'Sending…' : 'Take them so'}
        </button>
        <button className="button" disabled={isLoading} onClick={onDone}>
          Take none
        </button>
      </p>
      <table className="mt-1" aria-label="What each file is">
        <tbody>
          {dropped.map(({ file }, i) => (
            <tr key={file.name}>
              <td className="max-w-80 truncate py-0.5 pr-3">{file.name}</td>
              <td>
                <select
                  className="my-0.5 field"
                  aria-label={`What ${file.name} is`}
                  value={chosen[i]}
                  onChange={(e) => setChosen(chosen.map((c, k) => (k === i ? e.target.value : c)))}
                >
                  <option value={NEW_CLIP}>a new clip</option>
                  {clips.map((c) => (
                    <option key={c.id} value={c.id}>
                      {c.name}, repaired
                    </option>
                  ))}
                </select>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {failed.map((why) => (
        <p key={why} role="alert" className="font-semibold">
          {why}
        </p>
      ))}
    </section>
  );
};
