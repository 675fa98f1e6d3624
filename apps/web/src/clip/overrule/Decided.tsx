import type { Overrides } from '@bevrin/contract';
import { Label } from '../picture/Label.js';
import { Outline } from '../picture/Outline.js';
import type { Drawn } from '../picture/tools.js';

/** What the technician has drawn and decided, on the picture at this frame. In clip pixels. */
export const Decided = ({
  overrides: { noisePatch, interest, masks = [] },
  drawn,
  frame,
}: {
  overrides: Overrides;
  drawn: Drawn | null;
  frame: number;
}) => (
  <>
    {masks
      .filter(({ frames }) => !frames || (frames.startFrame <= frame && frame <= frames.endFrame))
      .map(({ shape }, i) => (
        <g key={i}>
          {shape.kind === 'rectangle' ? (
            <rect {...boxOf(shape)} fill="url(#hatch)" opacity={0.45} />
          ) : (
            <polygon points={pointsOf(shape.points)} fill="url(#hatch)" opacity={0.45} />
          )}
          <Outline>
            {(s) =>
              shape.kind === 'rectangle' ? (
                <rect {...boxOf(shape)} {...s} />
              ) : (
                <polygon points={pointsOf(shape.points)} {...s} />
              )
            }
          </Outline>
        </g>
      ))}
    {noisePatch && <Named name="flat patch" box={noisePatch} />}
    {interest && <Named name="region of interest" box={interest} />}
    {drawn && <LastDrawn drawn={drawn} />}
  </>
);

interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}
const boxOf = ({ x, y, width, height }: Box): Box => ({ x, y, width, height });
const pointsOf = (points: readonly (readonly [number, number])[]): string =>
  points.map((p) => p.join(',')).join(' ');

const Named = ({ name, box }: { name: string; box: Box }) => (
  <>
    <Outline dashed>{(s) => <rect {...boxOf(box)} {...s} />}</Outline>
    <Label x={box.x} y={box.y}>
      {name}
    </Label>
  </>
);

const LastDrawn = ({ drawn }: { drawn: Drawn }) => (
  <Outline>
    {(s) =>
      drawn.tool === 'line' ? (
        <line x1={drawn.from[0]} y1={drawn.from[1]} x2={drawn.to[0]} y2={drawn.to[1]} {...s} />
      ) : drawn.shape.kind === 'rectangle' ? (
        <rect {...boxOf(drawn.shape)} {...s} />
      ) : (
        <polygon points={pointsOf(drawn.shape.points)} {...s} />
      )
    }
  </Outline>
);
