import { useEffect, useRef, useState, type PointerEvent, type RefObject } from 'react';
import type { ClipDetail, ClipFacts, Region } from '@bevrin/contract';
import { Marks } from './Marks.js';
import type { Playhead } from './usePlayhead.js';

/** Ways of looking at a picture: the whole of it, or so many screen pixels for one of its own. */
export const ZOOMS = ['whole', 1, 4] as const;
export type Zoom = (typeof ZOOMS)[number];

/** A frame that is only passed by is not asked for. */
const SETTLE_MS = 90;

interface Props {
  readonly clip: ClipDetail & { facts: ClipFacts };
  readonly video: RefObject<HTMLVideoElement | null>;
  readonly playhead: Playhead;
  readonly zoom: Zoom;
  readonly regions: readonly Region[];
}

/** The picture: the proxy while it plays, the exact frame as soon as it stands. */
export const Picture = ({ clip, video, playhead, zoom, regions }: Props) => {
  const { width, height } = clip.facts;
  const still = useStill(clip.id, playhead, clip.hasPictures);
  const box = useRef<HTMLDivElement>(null);
  const dragging = useDragToPan(box);
  const whole = zoom === 'whole';
  const size = whole
    ? {
        aspectRatio: `${width} / ${height}`,
        maxWidth: '100%',
        maxHeight: '100%',
        width: `min(100%, calc(var(--tall) * ${width / height}))`,
      }
    : { width: width * zoom, height: height * zoom };
  return (
    <div className="relative min-h-0 min-w-0 flex-1 bg-well">
      <div
        ref={box}
        {...dragging}
        className={`absolute inset-0 [container-type:size] ${whole ? 'grid place-items-center overflow-hidden' : 'cursor-grab overflow-auto active:cursor-grabbing'}`}
      >
        <div className="relative mx-auto shrink-0 [--tall:100cqh]" style={size}>
          <video
            ref={video}
            src={clip.hasPictures ? `/api/clips/${clip.id}/proxy.mp4` : undefined}
            muted
            playsInline
            preload="auto"
            className="absolute inset-0 h-full w-full object-fill"
            aria-label={`${clip.name}, playing copy`}
          />
          {still.url && !playhead.playing && (
            <img
              src={still.url}
              alt={`${clip.name}, frame ${still.frame}`}
              draggable={false}
              className="absolute inset-0 h-full w-full"
              style={{ imageRendering: zoom === 4 ? 'pixelated' : 'auto' }}
            />
          )}
          <Marks
            width={width}
            height={height}
            regions={regions.filter((r) => r.startFrame <= playhead.frame && playhead.frame <= r.endFrame)}
          />
        </div>
      </div>
      <p role="status" className="absolute right-0 bottom-0 bg-sheet/90 px-2 py-0.5 text-xs">
        {whatIsShown(still, playhead, clip.hasPictures)}
      </p>
    </div>
  );
};

interface Still {
  readonly url: string | null;
  readonly frame: number;
  readonly failed: string | null;
}

/** Fetches the exact frame once the playhead rests; the one before stays until it is there. */
const useStill = (clipId: string, { frame, playing }: Playhead, available: boolean): Still => {
  const [still, setStill] = useState<Still>({ url: null, frame: -1, failed: null });
  useEffect(() => {
    if (playing || !available) return;
    const gone = new AbortController();
    const waiting = setTimeout(() => {
      fetch(`/api/clips/${clipId}/frames/${frame}.png`, { signal: gone.signal })
        .then(async (answer) => {
          if (!answer.ok) throw new Error(((await answer.json()) as { error: string }).error);
          const url = URL.createObjectURL(await answer.blob());
          setStill({ url, frame, failed: null });
        })
        .catch((error: Error) => {
          if (!gone.signal.aborted) setStill((s) => ({ ...s, failed: error.message }));
        });
    }, SETTLE_MS);
    return () => {
      clearTimeout(waiting);
      gone.abort();
    };
  }, [clipId, frame, playing, available]);
  useEffect(() => () => void (still.url && URL.revokeObjectURL(still.url)), [still.url]);
  return still;
};

const whatIsShown = (still: Still, { frame, playing }: Playhead, available: boolean): string => {
  if (!available) return 'no picture yet';
  if (playing) return 'playing copy, reduced';
  if (still.failed) return still.failed;
  return still.frame === frame
    ? `frame ${frame}, exact pixels`
    : `frame ${frame}, exact pixels on their way …`;
};

const useDragToPan = (box: RefObject<HTMLDivElement | null>) => {
  const from = useRef<{ x: number; y: number; left: number; top: number } | null>(null);
  return {
    onPointerDown: (e: PointerEvent) => {
      const b = box.current;
      if (!b) return;
      from.current = { x: e.clientX, y: e.clientY, left: b.scrollLeft, top: b.scrollTop };
      b.setPointerCapture(e.pointerId);
    },
    onPointerMove: (e: PointerEvent) => {
      if (from.current)
        box.current?.scrollTo(
          from.current.left - (e.clientX - from.current.x),
          from.current.top - (e.clientY - from.current.y),
        );
    },
    onPointerUp: () => void (from.current = null),
  };
};
