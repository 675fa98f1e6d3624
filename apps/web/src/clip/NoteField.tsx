import { useCallback, useEffect, useRef } from 'react';
import { api, sayError } from '../api/client.js';
import { useDraft } from '../parts/useDraft.js';
import { useLeaving } from '../parts/useLeaving.js';

const SAVE_AFTER_MS = 600;

/** A request that was refused because somebody else has written meanwhile. */
const isConflict = (error: unknown): boolean =>
  typeof error === 'object' && error !== null && (error as { status?: unknown }).status === 409;

/**
 * The note on a clip. What is typed is kept after a moment, and when the page is left; when another page or person has
 * written meanwhile, neither is written over the other without being asked.
 */
export const NoteField = ({ clipId, saved }: { clipId: string; saved: string }) => {
  const [text, base, write] = useDraft(`note ${clipId}`, saved);
  const [save, { isLoading, error }] = api.useSaveNoteMutation();
  const changed = text !== base;
  // What others wrote is taken over as long as nothing was typed here.
  useEffect(() => {
    if (saved !== base && (!changed || text === saved)) write(saved, saved);
  }, [saved, base, changed, text, write]);
  const conflict = changed && saved !== base && text !== saved;
  const latest = useRef(text);
  useEffect(() => void (latest.current = text));
  const keep = useCallback(
    async (note: string, before: string): Promise<void> => {
      const { error: refused } = await save({ clipId, note, before });
      // What was typed meanwhile is written on what was kept now.
      if (!refused) write(latest.current, note);
    },
    [save, clipId, write],
  );
  useEffect(() => {
    if (!changed || conflict) return;
    const waiting = setTimeout(() => void keep(text, base), SAVE_AFTER_MS);
    return () => clearTimeout(waiting);
  }, [text, base, changed, conflict, keep]);
  useLeaving(() => {
    if (changed && !conflict) void keep(text, base);
  });
  return (
    <div className="mt-3">
      <label className="block">
        <span className="heading flex">
          Note
          <span role="status" className="ml-auto font-normal text-soft">
            {conflict
              ? 'not saved'
              : error && !isConflict(error)
                ? sayError(error)
                : changed || isLoading
                  ? 'being saved …'
                  : text
                    ? 'saved'
                    : ''}
          </span>
        </span>
        <textarea
          className="mt-1 h-20 w-full field"
          value={text}
          maxLength={10_000}
          onChange={(e) => write(e.target.value)}
        />
      </label>
      {conflict && (
        <div role="alert" className="border border-ink bg-slip p-2">
          <p className="font-semibold">
            This note was changed meanwhile, on another page or by somebody else:
          </p>
          <p className="my-1 border-l-2 border-rule pl-2 whitespace-pre-wrap">{saved || 'it is empty now'}</p>
          <p className="flex flex-wrap gap-2">
            <button className="button" onClick={() => write(text, saved)}>
              Keep mine
            </button>
            <button className="button" onClick={() => write(saved, saved)}>
              Take that one
            </button>
            <button className="button" onClick={() => write(`${saved}\n${text}`, saved)}>
              Keep both
            </button>
          </p>
        </div>
      )}
    </div>
  );
};
