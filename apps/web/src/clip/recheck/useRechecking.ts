import { useMemo, useState } from 'react';
import type { ClipDetail, ClipRecheck, Measurement } from '@bevrin/contract';
import { recheckApi } from '../../api/rechecks.js';
import type { Compared } from '../compared.js';
import { returnedRun } from '../picture/worker.js';

/** What came back for a clip, and which of it is looked at. */
export interface Rechecking {
  readonly returned: readonly ClipRecheck[];
  readonly open: ClipRecheck | null;
  /** The repaired file over the original; `null` where it does not lie on it, or nobody looks. */
  readonly compared: Compared | null;
  /** What was measured of it, for the ruler of the original; `null` where it does not lie on it, or nobody looks. */
  readonly lane: ReturnedLane | null;
  choose(id: string): void;
}

/** A repaired file on the ruler of its original. */
export interface ReturnedLane {
  readonly version: number;
  readonly measurement: Measurement;
  /** The original's frame that it begins with. */
  readonly offset: number;
}

const NONE: readonly ClipRecheck[] = [];

/** @param on whether what came back is looked at */
export const useRechecking = (clip: ClipDetail, on: boolean): Rechecking => {
  const { data: returned = NONE } = recheckApi.useRechecksQuery(clip.id, {
    skip: !clip.judgement || clip.versionOf !== null,
  });
  const [chosen, choose] = useState<string | null>(null);
  const open = returned.find((r) => r.id === chosen) ?? returned.at(-1) ?? null;
  const compared = useMemo(
    (): Compared | null =>
      on && open?.range
        ? { ...returnedRun(open.id), range: open.range, mask: false, label: `version ${open.version}` }
        : null,
    [on, open],
  );
  const wanted = on && open?.state === 'done' && open.recheck?.alignment ? open : null;
  const { data: measurement } = recheckApi.useRecheckMeasuredQuery(wanted?.id ?? '', { skip: !wanted });
  const lane = useMemo(
    (): ReturnedLane | null =>
      wanted?.recheck?.alignment && measurement
        ? { version: wanted.version, measurement, offset: wanted.recheck.alignment.frameOffset }
        : null,
    [wanted, measurement],
  );
  return { returned, open, compared, lane, choose };
};
