import { DEFECTS, rationalToNumber, VERDICTS, type Clip, type Defect } from '@bevrin/contract';
import { badness, findingFor } from '../parts/severity.js';

export const SORTS = {
  worst: 'worst first',
  received: 'as received',
  name: 'by name',
  defect: 'by the defect',
};
export type Sorting = keyof typeof SORTS;
export const GROUPS = {
  '': 'not grouped',
  verdict: 'by verdict',
  camera: 'by camera',
  fact: 'by size and rate',
  assignee: 'by assignee',
  worst: 'by worst defect',
};
export type Grouping = keyof typeof GROUPS;
export const LAYOUTS = { table: 'Table', contact: 'Contact sheet', rolls: 'Roll by roll' };
export type Layout = keyof typeof LAYOUTS;

/** What of a batch is shown, and how. It stands in the address bar, so that it can be kept and sent. */
export interface Filters {
  readonly q: string;
  readonly verdict: string;
  /** A defect, and from which severity on. */
  readonly defect: string;
  readonly least: number;
  readonly camera: string;
  readonly fact: string;
  readonly assignee: string;
  readonly sort: Sorting;
  readonly group: Grouping;
  readonly layout: Layout;
}

/** A clip that is still worked on, or was not readable, has no verdict. */
export const STATES = { underWay: 'not measured yet', failed: 'not readable' };
export const NOBODY = '–';

const oneOf = <T extends string>(value: string | null, of: Record<T, unknown>, otherwise: T): T =>
  value !== null && value in of ? (value as T) : otherwise;

export const filtersFrom = (search: URLSearchParams): Filters => ({
  q: search.get('q') ?? '',
  verdict: search.get('verdict') ?? '',
  defect: DEFECTS.find((d) => d === search.get('defect')) ?? '',
  least: Math.max(0, Math.min(100, Number(search.get('least')) || 0)),
  camera: search.get('camera') ?? '',
  fact: search.get('fact') ?? '',
  assignee: search.get('assignee') ?? '',
  sort: oneOf(search.get('sort'), SORTS, 'worst'),
  group: oneOf(search.get('group'), GROUPS, ''),
  layout: oneOf(search.get('layout'), LAYOUTS, 'table'),
});

/** The address with one thing changed; what is as usual is left out of it. */
export const withFilter = (search: URLSearchParams, name: keyof Filters, value: string): URLSearchParams => {
  const next = new URLSearchParams(search);
  if (value === '' || value === '0' || (name === 'sort' && value === 'worst') || value === 'table')
    next.delete(name);
  else next.set(name, value);
  return next;
};

/** Size and rate of a clip in a few words; clips that share them can be treated alike. */
export const factOf = ({ facts }: Pick<Clip, 'facts'>): string =>
  facts
    ? `${facts.width}×${facts.height}, ${Number(rationalToNumber(facts.frameRate).toFixed(3))} fps`
    : 'not read';

/** The verdict as it stands, or why there is none. */
export const standsAs = ({ state, standing }: Pick<Clip, 'state' | 'standing'>): string =>
  standing?.verdict ?? (state === 'failed' || state === 'interrupted' ? STATES.failed : STATES.underWay);

const worstDefect = (clip: Clip): Defect | null => {
  const worst = DEFECTS.reduce<Defect | null>((best, d) => {
    const severity = findingFor(clip, d)?.severity ?? 0;
    return severity > (best ? (findingFor(clip, best)?.severity ?? 0) : 0) ? d : best;
  }, null);
  return worst;
};

const cameraOf = ({ summary }: Clip): string => summary?.camera ?? 'unknown';
const assigneeOf = ({ standing }: Clip): string => standing?.assignee || NOBODY;

const groupOf: Record<Grouping, (clip: Clip) => string> = {
  '': () => '',
  verdict: standsAs,
  camera: cameraOf,
  fact: factOf,
  assignee: assigneeOf,
  worst: (clip) => worstDefect(clip) ?? 'nothing',
};

/** The clips that a filter leaves, sorted. */
export const chosenClips = (clips: readonly Clip[], f: Filters): Clip[] => {
  const words = f.q.toLowerCase().split(/\s+/).filter(Boolean);
  const defect = DEFECTS.find((d) => d === f.defect);
  const kept = clips.filter((clip) => {
    if (f.verdict && standsAs(clip) !== f.verdict) return false;
    if (f.camera && cameraOf(clip) !== f.camera) return false;
    if (f.fact && factOf(clip) !== f.fact) return false;
    if (f.assignee && assigneeOf(clip) !== f.assignee) return false;
    if (defect && !((findingFor(clip, defect)?.severity ?? -1) >= Math.max(1, f.least))) return false;
    if (!defect && f.least > 0 && badness(clip) < f.least) return false;
    if (words.length === 0) return true;
    const text = `${clip.name} ${clip.note} ${clip.facts?.codec ?? ''}`.toLowerCase();
    return words.every((w) => text.includes(w));
  });
  switch (f.sort) {
    case 'received':
      return kept;
    case 'name':
      return kept.sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0));
    case 'defect':
      return byWeight(kept, (c) => findingFor(c, defect ?? DEFECTS[0])?.severity ?? -1);
    case 'worst':
      return byWeight(kept, badness);
  }
};

/** Heaviest first; each clip is weighed once. */
const byWeight = (clips: readonly Clip[], weigh: (clip: Clip) => number): Clip[] =>
  clips
    .map((clip) => ({ clip, weight: weigh(clip) }))
    .sort((a, b) => b.weight - a.weight)
    .map(({ clip }) => clip);

export type Line =
  | { readonly kind: 'group'; readonly name: string; readonly count: number }
  | { readonly kind: 'clip'; readonly clip: Clip };

/** The clips under their groups, the groups in the order in which their first clips come. */
export const grouped = (clips: readonly Clip[], grouping: Grouping): Line[] => {
  if (!grouping) return clips.map((clip) => ({ kind: 'clip', clip }));
  const groups = new Map<string, Clip[]>();
  for (const clip of clips) {
    const name = groupOf[grouping](clip);
    const group = groups.get(name);
    if (group) group.push(clip);
    else groups.set(name, [clip]);
  }
  return [...groups].flatMap(([name, members]): Line[] => [
    { kind: 'group', name, count: members.length },
    ...members.map((clip): Line => ({ kind: 'clip', clip })),
  ]);
};

/** What can be asked for in a batch: only what there is. */
export const choicesIn = (clips: readonly Clip[]) => {
  const all = (of: (clip: Clip) => string): string[] => [...new Set(clips.map(of))].sort();
  const verdicts = all(standsAs);
  return {
    verdicts: [...VERDICTS, ...Object.values(STATES)].filter((v) => verdicts.includes(v)),
    cameras: all(cameraOf),
    facts: all(factOf),
    assignees: all(assigneeOf),
  };
};
