import { useState, type DragEvent } from 'react';
import type { ClipDetail } from '@bevrin/contract';
import { sayError } from '../../api/client.js';
import { recheckApi } from '../../api/rechecks.js';
import { NameField } from '../../parts/NameField.js';
import { useSignature } from '../../parts/signature.js';

/** Where a repaired file is dropped, chosen, or named by its path on the server. */
export const Return = ({ clip }: { clip: ClipDetail }) => {
  const [who] = useSignature();
  const [send, { error, isLoading }] = recheckApi.useReturnFileMutation();
  const [path, setPath] = useState('');
  const [over, setOver] = useState(false);
  const [come, setCome] = useState<number | null>(null);
  const give = (file: File | string | undefined): void => {
    if (!file) return;
    const from = typeof file === 'string' ? { path: file } : { file, tell: setCome };
    setCome(typeof file === 'string' ? null : 0);
    void send({ clipId: clip.id, who, ...from });
  };
  const drop = (e: DragEvent): void => {
    e.preventDefault();
    e.stopPropagation();
    setOver(false);
    give(e.dataTransfer.files[0]);
  };
  return (
    <form
      className={`mt-2 border p-2 ${over ? 'border-ink bg-slip' : 'border-dashed border-rule'}`}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
      onSubmit={(e) => {
        e.preventDefault();
        give(path.trim());
      }}
    >
      <p className="flex items-end gap-3">
        <label className="flex-1">
          <span className="heading block">Return a repaired file</span>
          <input
            className="w-full field"
            placeholder="path on the server"
            value={path}
            onChange={(e) => setPath(e.target.value)}
          />
        </label>
        <NameField missing={who === ''} />
      </p>
      <p className="flex items-center gap-3 pt-2">
        <button className="button" disabled={isLoading || path.trim() === ''}>
          Return it
        </button>
        <label className="button cursor-pointer">
          {isLoading && come !== null ? `Sending, ${Math.round(100 * come)} %` : 'Choose a file'}
          <input
            type="file"
            className="sr-only"
            disabled={isLoading}
            onChange={(e) => give(e.target.files?.[0])}
          />
        </label>
        <span className="text-soft">or drop it here</span>
      </p>
      {error && (
        <p role="alert" className="pt-1 font-semibold">
          {sayError(error)}
        </p>
      )}
    </form>
  );
};
