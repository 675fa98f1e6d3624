import { useState } from 'react';
import type { ClipRecheck, RecheckSigned } from '@bevrin/contract';
import { sayError } from '../../api/client.js';
import { recheckApi } from '../../api/rechecks.js';
import { whenText } from '../../parts/format.js';
import { NameField } from '../../parts/NameField.js';
import { useSignature } from '../../parts/signature.js';

/** Reasons that still count, as they go back with the file. */
const counting = ({ recheck, waived }: ClipRecheck): string =>
  (recheck?.reasons ?? [])
    .filter((r) => r.weighs === 'fail' && !waived.some((w) => w.about === r.about))
    .map((r) => r.says)
    .join(' ');

/** Signed off, sent back, or neither yet. */
export const Sign = ({ open }: { open: ClipRecheck }) => {
  const [who] = useSignature();
  const [sign, { error, isLoading }] = recheckApi.useSignRecheckMutation();
  const [remark, setRemark] = useState('');
  const [assignee, setAssignee] = useState('');
  const { signed } = open;
  if (signed?.how === 'signedOff')
    return (
      <p className="pt-2 font-semibold" data-testid="signed">
        Signed off by {signed.who}, {whenText(signed.at)}. {signed.reason}
      </p>
    );
  const goesBack = open.verdict === 'sendBack';
  const say = (how: RecheckSigned['how']): void => {
    const reason = how === 'sentBack' ? [counting(open), remark].filter(Boolean).join(' ') : remark;
    const to = how === 'sentBack' && assignee.trim() !== '' ? { assignee } : {};
    void sign({ id: open.id, clipId: open.clipId, who, how, reason, ...to });
  };
  return (
    <div className="pt-2">
      {signed && (
        <p data-testid="signed">
          Sent back by {signed.who}, {whenText(signed.at)}
          {signed.assignee && `, to ${signed.assignee}`}: {signed.reason}
        </p>
      )}
      <p className="flex items-end gap-3">
        <NameField missing={who === ''} />
        <label className="flex-1">
          <span className="heading block">Repaired again by</span>
          <input
            className="w-full field"
            placeholder="who repaired it before"
            value={assignee}
            onChange={(e) => setAssignee(e.target.value)}
          />
        </label>
      </p>
      <label className="block pt-1">
        <span className="heading block">Remark</span>
        <textarea
          className="w-full field"
          rows={2}
          placeholder={goesBack ? 'The reasons above that count go back with it.' : ''}
          value={remark}
          onChange={(e) => setRemark(e.target.value)}
        />
      </label>
      <p className="flex gap-3 pt-1">
        <button
          className={`button ${goesBack ? '' : 'font-semibold'}`}
          disabled={isLoading}
          onClick={() => say('signedOff')}
        >
          Sign off
        </button>
        <button
          className={`button ${goesBack ? 'font-semibold' : ''}`}
          disabled={isLoading}
          onClick={() => say('sentBack')}
        >
          Send back
        </button>
      </p>
      {error && (
        <p role="alert" className="pt-1 font-semibold">
          {sayError(error)}
        </p>
      )}
    </div>
  );
};
