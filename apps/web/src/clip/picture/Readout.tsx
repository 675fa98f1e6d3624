import { useEffect, useState } from 'react';
import type { ClipFacts } from '@bevrin/contract';
import type { PointSample } from '@bevrin/core/inspect';
import { pictures } from './pictures.js';
import type { Point } from './tools.js';
import type { TriedRun } from './worker.js';

interface Props {
  readonly at: Point | null;
  readonly clip: { readonly id: string; readonly content: string | null; readonly facts: ClipFacts };
  readonly frame: number;
  /** The run of a trial whose pixels are shown; left out where they are as they came. */
  readonly tried?: TriedRun;
  /** Whether the exact pixels of this frame are there. */
  readonly known: boolean;
}

const names = ({ matrix }: ClipFacts, count: number): readonly string[] =>
  count === 1 ? ['Y'] : matrix === 'rgb' ? ['G', 'B', 'R'] : ['Y', 'Cb', 'Cr'];

/** What stands under the pointer: position, stored codes, level, and how it spreads about it. */
export const Readout = ({ at, clip: { id, content, facts }, frame, tried, known }: Props) => {
  const [seen, setSeen] = useState<PointSample | null>(null);
  const x = at && known ? Math.floor(at[0]) : -1;
  const y = at && known ? Math.floor(at[1]) : -1;
  const inside = x >= 0 && y >= 0 && x < facts.width && y < facts.height;
  useEffect(() => {
    if (!inside) return;
    let gone = false;
    void pictures()
      .point({ clipId: id, content, frame, facts, ...(tried && { tried }) }, x, y)
      .then((point) => {
        if (!gone) setSeen(point);
      })
      .catch(() => undefined);
    return () => void (gone = true);
  }, [inside, id, content, frame, facts, tried, x, y]);
  if (!inside || !seen) return null;
  const words = names(facts, seen.codes.length);
  return (
    <p
      data-testid="readout"
      className="pointer-events-none absolute bottom-0 left-0 flex gap-3 bg-sheet/90 px-2 py-0.5 text-xs whitespace-nowrap"
    >
      <span>
        x {seen.x}, y {seen.y}
      </span>
      <span>
        {words.map((w, i) => `${w} ${seen.codes[i]}`).join('  ')} <span className="text-soft">codes</span>
      </span>
      <span>level {seen.levelPct.toFixed(1)} %</span>
      <span title="standard deviation about a plane through 9 × 9 pixels">
        σ {seen.sigmaPct.toFixed(2)} %
      </span>
    </p>
  );
};
