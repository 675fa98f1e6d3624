import { useMemo } from 'react';
import type { Clip, ClipFacts } from '@bevrin/contract';
import { useSize } from '../../parts/useSize.js';
import { Pane } from './Pane.js';
import { useStage, type Stage } from './stage.js';
import { usePointer } from './usePointer.js';
import { useShown } from './useShown.js';
import type { Look } from './worker.js';

interface Props {
  readonly clip: Clip & { facts: ClipFacts };
  /** How the clip that is worked on is looked at: this one follows. */
  readonly stage: Stage;
  readonly frame: number;
  readonly look: Look;
}

const nothing = (): void => undefined;

/** Another clip beside the one that is worked on: at the same scale, at the same place of the picture. */
export const Beside = ({ clip, stage, frame, look }: Props) => {
  const [box, size] = useSize<HTMLDivElement>();
  const { view } = useStage(stage);
  const { width, height, frames } = clip.facts;
  const picture = useMemo(() => ({ width, height }), [width, height]);
  const { handlers } = usePointer(box, stage, 'look', nothing);
  const shown = useShown(
    'beside',
    { clipId: clip.id, content: clip.content, frame: Math.min(frames - 1, frame), facts: clip.facts },
    look,
  );
  return (
    <div
      ref={box}
      {...handlers}
      className="relative min-w-0 flex-1 cursor-grab touch-none overflow-hidden border-l border-ink bg-well"
    >
      <Pane
        name={clip.name}
        shown={shown}
        split={null}
        picture={picture}
        view={{
          scale: view.scale,
          x: (view.x / stage.picture.width) * width,
          y: (view.y / stage.picture.height) * height,
        }}
        size={size}
        hidden={false}
      />
      <p className="absolute top-0 left-0 bg-sheet/90 px-2 py-0.5 text-xs">
        {clip.name}, {width} × {height}
      </p>
      <p className="absolute right-0 bottom-0 bg-sheet/90 px-2 py-0.5 text-xs">
        {shown.current
          ? (shown.failed ?? `frame ${shown.frame}, exact pixels`)
          : 'exact pixels on their way …'}
      </p>
    </div>
  );
};
