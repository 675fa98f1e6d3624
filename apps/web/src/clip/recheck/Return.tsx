import { useState, type DragEvent } from 'react';
import type { ClipDetail, DecisionMade, ReturnFile } from '@bevrin/contract';
import { api, sayError } from '../../api/client.js';
import { recheckApi } from '../../api/rechecks.js';
import { whenText } from '../../parts/format.js';
import { NameField } from '../../parts/NameField.js';
import { useSignature } from '../../parts/signature.js';

/** Where a repaired file is dropped, chosen, or named by its path on the server. */
export const Return = ({ clip }: { clip: ClipDetail }) => {
  const [who] = useSignature();
  const [send, { error, isLoading }] = recheckApi.useReturnFileMutation();
  const [path, setPath] = useState('');
  const [over, setOver] = useState(false);
  const [come, setCome] = useState<number | null>(null);
  const [made, setMade] = useState<MadeOf>({});
  const give = (file: File | string | undefined): void => {
    if (!file) return;
    const from = typeof file === 'string' ? { path: file } : { file, tell: setCome };
    setCome(typeof file === 'string' ? null : 0);
    void send({ clipId: clip.id, who, ...made, ...from });
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
      <MadeOf clip={clip} made={made} onMade={setMade} />
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

/** What a repaired file was made from and by, where it is not what one would think. */
type MadeOf = Pick<ReturnFile, 'madeFrom' | 'plan'>;

const NO_HISTORY: readonly DecisionMade[] = [];

/** Asked only where there is a choice. */
const MadeOf = ({
  clip,
  made,
  onMade,
}: {
  clip: ClipDetail;
  made: MadeOf;
  onMade: (made: MadeOf) => void;
}) => {
  const { data: plan } = api.usePlanQuery(clip.id, { skip: !clip.judgement });
  const approvals = (plan?.history ?? NO_HISTORY).filter((d) => d.decision.kind === 'approve').reverse();
  if (clip.versions.length < 2 && approvals.length < 2) return null;
  return (
    <p className="flex gap-3 pt-2">
      {clip.versions.length > 1 && (
        <label className="flex-1">
          <span className="heading block">Made from</span>
          <select
            className="w-full field"
            value={made.madeFrom ?? ''}
            onChange={(e) => onMade({ ...made, madeFrom: e.target.value || undefined })}
          >
            <option value="">the original</option>
            {clip.versions
              .filter((v) => v.kind === 'repaired')
              .map((v) => (
                <option key={v.id} value={v.id}>
                  version {v.number}
                </option>
              ))}
          </select>
        </label>
      )}
      {approvals.length > 1 && (
        <label className="flex-1">
          <span className="heading block">By the plan</span>
          <select
            className="w-full field"
            value={made.plan ?? ''}
            onChange={(e) => onMade({ ...made, plan: Number(e.target.value) || undefined })}
          >
            <option value="">approved last</option>
            {approvals.map((a) => (
              <option key={a.id} value={a.id}>
                approved by {a.who}, {whenText(a.at)}
              </option>
            ))}
          </select>
        </label>
      )}
    </p>
  );
};
