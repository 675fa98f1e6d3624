import type { Measurement } from '@bevrin/contract';

/** Frames much softer than their neighbours, and whether sharp ones stand beside them. */
export const SoftTable = ({
  measurement: { readings },
  onGo,
}: {
  measurement: Measurement;
  onGo: (frame: number) => void;
}) => {
  const runs = readings.softness.state === 'measured' ? readings.softness.values.softFrames : [];
  if (runs.length === 0) return null;
  return (
    <ul className="mt-2 max-h-40 overflow-auto" aria-label="Soft frames">
      {runs.map((r) => (
        <li key={r.startFrame} className="grid grid-cols-[7rem_4rem_1fr] border-b border-hair py-0.5">
          <button className="text-left font-semibold hover:underline" onClick={() => onGo(r.startFrame)}>
            {r.startFrame === r.endFrame ? `frame ${r.startFrame}` : `frames ${r.startFrame}–${r.endFrame}`}
          </button>
          <span>{r.cause}</span>
          {r.recoverable ? (
            <span>
              sharp beside it:{' '}
              {[r.startFrame - 1, r.endFrame + 1].map((f) => (
                <button key={f} className="mr-2 underline underline-offset-4" onClick={() => onGo(f)}>
                  {f}
                </button>
              ))}
            </span>
          ) : (
            <span className="text-soft">no sharp frame near; cannot be rebuilt</span>
          )}
        </li>
      ))}
    </ul>
  );
};
