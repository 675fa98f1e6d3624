import { useMemo } from 'react';
import { USUAL_NEIGHBOUR_LIMITS, type BesideFinding, type Clip } from '@bevrin/contract';
import { besideOf } from '@bevrin/core/scoring';
import { api } from '../api/client.js';

const NO_CLIPS: readonly Clip[] = [];

/** How the clips of a batch differ from the others of their rolls under their deliveries, by their ids. */
export const useBeside = (
  clips: readonly Clip[] = NO_CLIPS,
): ReadonlyMap<string, readonly BesideFinding[]> => {
  const { data: specs } = api.useSpecsQuery();
  return useMemo(() => {
    // Until the limits are there nothing is said: what a house took out must not flash up.
    if (!specs) return new Map();
    const limits = new Map(specs.map((s) => [s.id, s.beside ?? USUAL_NEIGHBOUR_LIMITS]));
    const specOf = new Map(clips.map((c) => [c.id, c.summary?.spec.id ?? '']));
    return besideOf(clips, (id) => limits.get(specOf.get(id) ?? '') ?? USUAL_NEIGHBOUR_LIMITS);
  }, [clips, specs]);
};
