import { useRef, type PointerEvent } from 'react';

const KEY_STEP = 0.02;

/** The line between the plain picture on its left and the treated one on its right. */
export const SplitHandle = ({
  at,
  names: [left, right],
  onMove,
}: {
  at: number;
  /** What stands to the left and to the right of it. */
  names: readonly [left: string, right: string];
  onMove: (at: number) => void;
}) => {
  const handle = useRef<HTMLDivElement>(null);
  const move = (e: PointerEvent): void => {
    if (!(e.buttons & 1)) return;
    e.stopPropagation();
    const box = handle.current?.parentElement?.getBoundingClientRect();
    if (box) onMove(clamp((e.clientX - box.left) / box.width));
  };
  return (
    <div
      ref={handle}
      data-control
      role="slider"
      tabIndex={0}
      aria-label={`Split: ${left} to the left, ${right} to the right`}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(100 * at)}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={move}
      onKeyDown={(e) => {
        const by = { ArrowLeft: -KEY_STEP, ArrowRight: KEY_STEP }[e.key];
        if (by === undefined) return;
        e.preventDefault();
        e.stopPropagation();
        onMove(clamp(at + by));
      }}
      className="absolute inset-y-0 w-4 -translate-x-1/2 cursor-ew-resize"
      style={{ left: `${100 * at}%` }}
    >
      <span className="absolute top-1 right-5 bg-sheet/90 px-1.5 text-xs whitespace-nowrap">{left}</span>
      <span className="absolute top-1 left-5 bg-sheet/90 px-1.5 text-xs whitespace-nowrap">{right}</span>
    </div>
  );
};

const clamp = (v: number): number => Math.max(0.02, Math.min(0.98, v));
