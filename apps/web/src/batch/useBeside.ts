import { useMemo } from 'react';
import type { BesideFinding, Clip } from '@bevrin/contract';
import { besideOf } from '@bevrin/core/scoring';
import { api } from '../api/client.js';

const NO_CLIPS: readonly Clip[] = [];

/** How the clips of a batch differ from the others of their rolls under their deliveries, by their ids. */
export const useBeside = (
  clips: readonly Clip[] = NO_CLIPS,
): ReadonlyMap<string, readonly BesideFinding[]> => {
  const { data: specs } = api.useSpecsQuery();
  // Until the limits are there nothing is said.
  return useMemo(() => besideOf(clips, specs ?? []), [clips, specs]);
};
