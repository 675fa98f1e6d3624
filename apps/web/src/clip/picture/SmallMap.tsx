import { useLayoutEffect, useRef, type PointerEvent } from 'react';
import type { ClipFacts } from '@bevrin/contract';
import { Outline } from './Outline.js';
import { useStage, type Stage } from './stage.js';
import type { ShownFrame } from './useShown.js';
import { seenPart } from './view.js';

const WIDE = 148;

interface Props {
  readonly clip: { readonly name: string; readonly facts: ClipFacts };
  readonly stage: Stage;
  readonly shown: ShownFrame;
}

/** The whole picture, small, with a frame about the part that is seen. */
export const SmallMap = ({ clip, stage, shown }: Props) => {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { view, size } = useStage(stage);
  const { width, height } = clip.facts;
  const tall = Math.round((WIDE * height) / width);
  useLayoutEffect(() => {
    const pen = canvas.current?.getContext('2d');
    if (pen && shown.shown && shown.shown.bitmap.width > 0)
      pen.drawImage(shown.shown.bitmap, 0, 0, WIDE, tall);
  }, [shown.shown, tall]);
  const part = seenPart(view, stage.picture, size);
  const k = WIDE / width;
  const go = (e: PointerEvent): void => {
    if (!(e.buttons & 1)) return;
    e.stopPropagation();
    const { left, top } = e.currentTarget.getBoundingClientRect();
    stage.goTo((e.clientX - left) / k, (e.clientY - top) / k, view.scale);
  };
  return (
    <div
      data-control
      onPointerDown={go}
      onPointerMove={go}
      className="absolute top-2 right-2 cursor-crosshair border border-ink outline outline-white/70"
      style={{ width: WIDE + 2, height: tall + 2 }}
      title="The whole picture"
    >
      <canvas ref={canvas} width={WIDE} height={tall} role="img" aria-label={`${clip.name}, small`} />
      <svg className="absolute inset-0 h-full w-full" aria-hidden>
        <Outline>
          {(stroke) => (
            <rect
              x={part.x * k}
              y={part.y * k}
              width={Math.max(2, part.width * k)}
              height={Math.max(2, part.height * k)}
              {...stroke}
            />
          )}
        </Outline>
      </svg>
    </div>
  );
};
