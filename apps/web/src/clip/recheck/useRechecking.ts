import { useMemo, useState } from 'react';
import type { ClipDetail, ClipRecheck } from '@bevrin/contract';
import { recheckApi } from '../../api/rechecks.js';
import type { Compared } from '../compared.js';
import { returnedRun } from '../picture/worker.js';

/** What came back for a clip, and which of it is looked at. */
export interface Rechecking {
  readonly returned: readonly ClipRecheck[];
  readonly open: ClipRecheck | null;
  /** The repaired file over the original; `null` where it does not lie on it, or nobody looks. */
  readonly compared: Compared | null;
  choose(id: string): void;
}

const NONE: readonly ClipRecheck[] = [];

/** @param on whether what came back is looked at */
export const useRechecking = (clip: ClipDetail, on: boolean): Rechecking => {
  const { data: returned = NONE } = recheckApi.useRechecksQuery(clip.id, { skip: !clip.judgement });
  const [chosen, choose] = useState<string | null>(null);
  const open = returned.find((r) => r.id === chosen) ?? returned.at(-1) ?? null;
  const compared = useMemo(
    (): Compared | null =>
      on && open?.range
        ? { ...returnedRun(open.id), range: open.range, mask: false, label: `version ${open.version}` }
        : null,
    [on, open],
  );
  return { returned, open, compared, choose };
};
