import { Outline } from './Outline.js';
import type { Point, Tool } from './tools.js';

/** What is being drawn, as long as the hand is at it. */
export const Draft = ({ tool, points }: { tool: Tool; points: readonly Point[] }) => {
  const [first] = points;
  const last = points.at(-1);
  if (!first || !last || points.length < 2) return null;
  if (tool === 'line' || tool === 'polygon')
    return <Outline>{(s) => <polyline points={points.map((p) => p.join(',')).join(' ')} {...s} />}</Outline>;
  return (
    <Outline>
      {(s) => (
        <rect
          x={Math.min(first[0], last[0])}
          y={Math.min(first[1], last[1])}
          width={Math.abs(last[0] - first[0])}
          height={Math.abs(last[1] - first[1])}
          {...s}
        />
      )}
    </Outline>
  );
};
