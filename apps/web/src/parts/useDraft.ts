import { useCallback, useState } from 'react';

const PREFIX = 'bevrin.draft ';

interface Draft {
  readonly text: string;
  /** What the server had when the writing began. */
  readonly on: string;
}

const draftAt = (place: string): Draft | null => {
  try {
    return JSON.parse(localStorage.getItem(place) ?? 'null') as Draft | null;
  } catch {
    return null;
  }
};

/**
 * A text that is being written and has not been kept on the server yet. It outlives the page it is written on: whoever
 * comes back finds it.
 * @param key names the field, and what it belongs to
 * @param saved what the server has
 * @returns the text, what the server had when the writing began, and how to go on: with the text, and what it is
 * written on; a text that is what it is written on is no draft
 */
export const useDraft = (
  key: string,
  saved: string,
): readonly [text: string, on: string, write: (text: string, on?: string) => void] => {
  const place = PREFIX + key;
  const [draft, setDraft] = useState<Draft>(() => draftAt(place) ?? { text: saved, on: saved });
  const write = useCallback(
    (text: string, on?: string): void =>
      setDraft((now) => {
        const next = { text, on: on ?? now.on };
        if (next.text === next.on) localStorage.removeItem(place);
        else localStorage.setItem(place, JSON.stringify(next));
        return next;
      }),
    [place],
  );
  return [draft.text, draft.on, write];
};
