import { useCallback, useMemo, useState } from 'react';

export interface Selection {
  /** The clip that the keys act on. */
  readonly cursor: string | null;
  readonly chosen: ReadonlySet<string>;
  /** @param extend from where the last choice began to here */
  choose(id: string, how?: { extend?: boolean; toggle?: boolean }): void;
  move(by: number, extend: boolean): void;
  all(): void;
  none(): void;
}

/** Which clips of a list are chosen: one, a run of them, or some here and there. */
export const useSelection = (ids: readonly string[]): Selection => {
  const [cursor, setCursor] = useState<string | null>(null);
  const [anchor, setAnchor] = useState<string | null>(null);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const place = useMemo(() => new Map(ids.map((id, i) => [id, i])), [ids]);
  const choose = useCallback(
    (id: string, { extend = false, toggle = false }: { extend?: boolean; toggle?: boolean } = {}) => {
      setCursor(id);
      if (extend && anchor !== null) {
        const [a, b] = [place.get(anchor) ?? 0, place.get(id) ?? 0];
        setChosen(new Set(ids.slice(Math.min(a, b), Math.max(a, b) + 1)));
        return;
      }
      setAnchor(id);
      setChosen((before) => {
        if (!toggle) return new Set([id]);
        const next = new Set(before);
        if (!next.delete(id)) next.add(id);
        return next;
      });
    },
    [anchor, ids, place],
  );
  const move = (by: number, extend: boolean): void => {
    const from = cursor === null ? null : place.get(cursor);
    const at = from === undefined || from === null ? 0 : from + by;
    const id = ids[Math.max(0, Math.min(ids.length - 1, at))];
    if (id) choose(id, { extend });
  };
  return {
    cursor,
    chosen,
    choose,
    move,
    all: () => setChosen(new Set(ids)),
    none: () => setChosen(new Set()),
  };
};
