import { useState } from 'react';
import type { ClipRecheck, Recheck, RecheckReason, RecheckWaiver } from '@bevrin/contract';
import { sayError } from '../../api/client.js';
import { recheckApi } from '../../api/rechecks.js';
import { useSignature } from '../../parts/signature.js';

interface Props {
  readonly open: ClipRecheck;
  readonly recheck: Recheck;
  readonly onLookAt: (frame: number, x: number, y: number) => void;
  readonly onGo: (frame: number) => void;
}

/** Why a repaired file is accepted or goes back; each reason can be looked at, and let stand. */
export const Reasons = ({ open, recheck, onLookAt, onGo }: Props) => {
  const { reasons, because, alignment } = recheck;
  if (reasons.length === 0)
    return (
      <ul className="list-disc pt-1 pl-4">
        {because.map((why) => (
          <li key={why}>{why}</li>
        ))}
      </ul>
    );
  const look = ({ frames, at }: RecheckReason): void => {
    if (!frames) return;
    const frame = Math.round((frames.startFrame + frames.endFrame) / 2) + (alignment?.frameOffset ?? 0);
    if (at) onLookAt(frame, at.x, at.y);
    else onGo(frame);
  };
  return (
    <ul className="pt-1" aria-label="Reasons">
      {reasons.map((reason) => (
        <Reason
          key={reason.about}
          open={open}
          reason={reason}
          waived={open.waived.find((w) => w.about === reason.about)}
          onLook={reason.frames && alignment ? () => look(reason) : undefined}
        />
      ))}
    </ul>
  );
};

const Reason = ({
  open,
  reason: { about, weighs, says },
  waived,
  onLook,
}: {
  open: ClipRecheck;
  reason: RecheckReason;
  waived: RecheckWaiver | undefined;
  onLook: (() => void) | undefined;
}) => {
  const [who] = useSignature();
  const [waive, { error, isLoading }] = recheckApi.useWaiveReasonMutation();
  const [why, setWhy] = useState<string | null>(null);
  const isOpen = open.signed?.how !== 'signedOff';
  const say = (reason: string | null): void => {
    void waive({ id: open.id, clipId: open.clipId, who, about, reason })
      .unwrap()
      .then(() => setWhy(null))
      .catch(() => undefined);
  };
  return (
    <li className="border-b border-hair py-1">
      <p className={waived ? 'text-soft line-through' : weighs === 'fail' ? 'font-semibold' : ''}>{says}</p>
      {waived && (
        <p>
          Let stand by {waived.who}: {waived.reason}
        </p>
      )}
      <p className="flex gap-2 pt-0.5">
        {onLook && (
          <button className="button" onClick={onLook} aria-label={`Look at it: ${says}`}>
            Look at it
          </button>
        )}
        {isOpen && waived && (
          <button className="button" disabled={isLoading} onClick={() => say(null)}>
            Count it again
          </button>
        )}
        {isOpen && !waived && why === null && (
          <button className="button" aria-label={`Let it stand: ${says}`} onClick={() => setWhy('')}>
            Let it stand
          </button>
        )}
      </p>
      {why !== null && !waived && (
        <form
          className="flex items-end gap-2 pt-1"
          onSubmit={(e) => {
            e.preventDefault();
            say(why);
          }}
        >
          <label className="flex-1">
            <span className="heading block">Why it may stand</span>
            <input
              className="w-full field"
              autoFocus
              value={why}
              onChange={(e) => setWhy(e.target.value)}
              onKeyDown={(e) => e.key === 'Escape' && setWhy(null)}
            />
          </label>
          <button className="button" disabled={isLoading || why.trim() === ''}>
            Let it stand
          </button>
        </form>
      )}
      {error && (
        <p role="alert" className="font-semibold">
          {sayError(error)}
        </p>
      )}
    </li>
  );
};
