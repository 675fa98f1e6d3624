import { useEffect, type ReactNode, type RefObject } from 'react';
import type { ClipDetail, ClipFacts } from '@bevrin/contract';
import { useSize } from '../../parts/useSize.js';
import type { Playhead } from '../usePlayhead.js';
import { Draft } from './Draft.js';
import { Pane } from './Pane.js';
import { Readout } from './Readout.js';
import { SmallMap } from './SmallMap.js';
import { SplitHandle } from './SplitHandle.js';
import { useStage, type Stage } from './stage.js';
import type { Drawn, Tool } from './tools.js';
import { usePointer } from './usePointer.js';
import type { ShownFrame } from './useShown.js';
import { toStage } from './view.js';

interface Props {
  readonly clip: ClipDetail & { facts: ClipFacts };
  readonly stage: Stage;
  readonly video: RefObject<HTMLVideoElement | null>;
  readonly playhead: Playhead;
  readonly shown: ShownFrame;
  /** The same frame without its viewing transform, for the split. */
  readonly plain: ShownFrame;
  readonly overlay: ImageBitmap | null;
  readonly split: number | null;
  /** What stands to the left and to the right of the split. */
  readonly sides: readonly [left: string, right: string];
  readonly onSplit: (at: number) => void;
  readonly tool: Tool;
  readonly onDrawn: (drawn: Drawn) => void;
  readonly grid: boolean;
  /** Evidence, in clip pixels. */
  readonly children: ReactNode;
}

/** The picture: the proxy while it plays, the exact frame as soon as it stands, at any scale. */
export const PictureStage = ({
  clip,
  stage,
  video,
  playhead,
  shown,
  plain,
  overlay,
  split,
  sides,
  onSplit,
  tool,
  onDrawn,
  grid,
  children,
}: Props) => {
  const [box, measured] = useSize<HTMLDivElement>();
  const { view, size, whole } = useStage(stage);
  useEffect(() => stage.resize(measured), [stage, measured]);
  const { at, draft, handlers } = usePointer(box, stage, tool, onDrawn);
  const { width, height } = clip.facts;
  const [left, top] = toStage(view, size, 0, 0);
  return (
    <div
      ref={box}
      {...handlers}
      className={`relative min-h-0 min-w-0 flex-1 touch-none overflow-hidden bg-well ${tool === 'look' ? 'cursor-grab active:cursor-grabbing' : 'cursor-crosshair'}`}
    >
      <video
        ref={video}
        // The exact frame comes first; the playing copy is fetched when that is there.
        src={clip.proxy !== null && shown.shown ? `/api/pictures/${clip.proxy}` : undefined}
        muted
        playsInline
        preload="auto"
        className="absolute max-w-none object-fill"
        style={{ left, top, width: width * view.scale, height: height * view.scale }}
        aria-label={`${clip.name}, playing copy`}
      />
      <Pane
        name={clip.name}
        shown={shown}
        other={plain}
        overlay={overlay}
        split={split}
        picture={stage.picture}
        view={view}
        size={size}
        hidden={playhead.playing || !shown.shown}
      >
        {children}
        {grid && <Grid width={width} height={height} />}
        <Draft tool={tool} points={draft} />
      </Pane>
      {split !== null && <SplitHandle at={split} names={sides} onMove={onSplit} />}
      {!whole && <SmallMap clip={clip} stage={stage} shown={shown} />}
      <Readout
        at={at}
        clip={clip}
        frame={playhead.frame}
        tried={shown.tried}
        known={!playhead.playing && shown.current}
      />
      <p role="status" className="absolute right-0 bottom-0 bg-sheet/90 px-2 py-0.5 text-xs">
        {whatIsShown(shown, playhead, clip.proxy !== null)}
      </p>
    </div>
  );
};

const whatIsShown = (
  { shown, failed, tried, current }: ShownFrame,
  { frame, playing }: Playhead,
  available: boolean,
): string => {
  if (playing) return 'playing copy, reduced';
  if (failed && current) return failed;
  if (!available && !shown) return 'no picture yet';
  if (!current) return `frame ${frame}, exact pixels on their way …`;
  return `frame ${frame}${tried ? ' treated' : ''}, exact pixels${shown?.remark ? `; ${shown.remark}` : ''}`;
};

/** Lines of the grid over the longer side. */
const GRID = 12;

/** A net of straight lines, to judge by it whether lines of the picture are straight. */
const Grid = ({ width, height }: { width: number; height: number }) => {
  const cell = Math.max(width, height) / GRID;
  const lines: string[] = [];
  for (let x = cell; x < width; x += cell) lines.push(`M${x} 0V${height}`);
  for (let y = cell; y < height; y += cell) lines.push(`M0 ${y}H${width}`);
  const d = lines.join('');
  return (
    <g fill="none">
      <path d={d} stroke="#f4f4f4" strokeWidth={1.5} vectorEffect="non-scaling-stroke" opacity={0.7} />
      <path d={d} stroke="#141414" strokeWidth={0.75} vectorEffect="non-scaling-stroke" opacity={0.8} />
    </g>
  );
};
