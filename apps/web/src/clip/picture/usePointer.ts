import { useEffect, useRef, useState, type PointerEvent, type RefObject } from 'react';
import type { Stage } from './stage.js';
import { lineBetween, rectangleOf, type Drawn, type Point, type Tool } from './tools.js';
import { toPicture } from './view.js';

/** Clicking this close to the first corner closes a polygon, screen px. */
const CLOSES = 8;

interface Pointer {
  /** Where the pointer is, in clip pixels; `null` outside. */
  readonly at: Point | null;
  /** Corners set so far, with the pointer as the last one. */
  readonly draft: readonly Point[];
  readonly handlers: {
    onPointerDown(e: PointerEvent): void;
    onPointerMove(e: PointerEvent): void;
    onPointerUp(e: PointerEvent): void;
    onPointerLeave(): void;
    onDoubleClick(): void;
  };
}

/** The hand on the picture: the wheel goes closer, a drag moves it or draws, as the tool says. */
export const usePointer = (
  box: RefObject<HTMLElement | null>,
  stage: Stage,
  tool: Tool,
  onDrawn: (drawn: Drawn) => void,
): Pointer => {
  const [at, setAt] = useState<Point | null>(null);
  const [corners, setCorners] = useState<readonly Point[]>([]);
  const drag = useRef<{ x: number; y: number } | null>(null);
  useEffect(() => {
    const node = box.current;
    if (!node) return;
    const wheel = (e: WheelEvent): void => {
      e.preventDefault();
      const { left, top } = node.getBoundingClientRect();
      stage.wheel(e.deltaY, e.clientX - left, e.clientY - top);
    };
    // A passive listener could not keep the page from scrolling.
    node.addEventListener('wheel', wheel, { passive: false });
    return () => node.removeEventListener('wheel', wheel);
  }, [box, stage]);
  const point = (e: PointerEvent): Point => {
    const { left, top } = box.current!.getBoundingClientRect();
    const { view, size } = stage.get();
    return toPicture(view, size, e.clientX - left, e.clientY - top);
  };
  const finish = (drawn: Drawn | null): void => {
    setCorners([]);
    if (drawn) onDrawn(drawn);
  };
  const closePolygon = (points: readonly Point[]): void =>
    finish(
      points.length >= 3
        ? {
            tool: 'polygon',
            shape: { kind: 'polygon', points: points.map(([x, y]) => [Math.round(x), Math.round(y)]) },
          }
        : null,
    );
  return {
    at,
    draft: corners.length > 0 && at ? [...corners, at] : corners,
    handlers: {
      onPointerDown: (e) => {
        if (e.target instanceof Element && e.target.closest('[data-control]')) return;
        box.current?.setPointerCapture(e.pointerId);
        if (tool === 'look' || e.button === 1) {
          drag.current = { x: e.clientX, y: e.clientY };
          return;
        }
        if (e.button !== 0) return;
        const here = point(e);
        if (tool !== 'polygon') return setCorners([here]);
        const [first] = corners;
        const near =
          first && Math.hypot(first[0] - here[0], first[1] - here[1]) * stage.get().view.scale < CLOSES;
        if (near) closePolygon(corners);
        else setCorners([...corners, here]);
      },
      onPointerMove: (e) => {
        setAt(point(e));
        const from = drag.current;
        if (!from) return;
        stage.pan(e.clientX - from.x, e.clientY - from.y);
        drag.current = { x: e.clientX, y: e.clientY };
      },
      onPointerUp: (e) => {
        drag.current = null;
        const [first] = corners;
        if (!first || tool === 'polygon' || tool === 'look') return;
        const here = point(e);
        if (tool === 'line') return finish(lineBetween(first, here));
        const shape = rectangleOf(first, here, stage.picture);
        finish(shape && { tool, shape });
      },
      onPointerLeave: () => setAt(null),
      // The double click has set its last corner twice.
      onDoubleClick: () => tool === 'polygon' && closePolygon(corners.slice(0, -1)),
    },
  };
};
