import type { Region } from '@bevrin/contract';
import { Label } from '../picture/Label.js';
import { Outline } from '../picture/Outline.js';

interface Props {
  readonly regions: readonly Region[];
  readonly label?: (r: Region) => string;
  /** So many carry their words. */
  readonly few?: number;
}

/** Regions outlined over the picture, the first few with their words. */
export const Regions = ({ regions, label, few = 0 }: Props) =>
  regions.map((r, i) => (
    <g key={i}>
      <Outline>{(s) => <rect x={r.x} y={r.y} width={r.width} height={r.height} {...s} />}</Outline>
      {label && i < few && (
        <g
          style={{
            transform: `translate(calc(${r.x}px + 5px * var(--px)), calc(${r.y}px + 15px * var(--px)))`,
          }}
        >
          <Label x={0} y={0}>
            {label(r)}
          </Label>
        </g>
      )}
    </g>
  ));
