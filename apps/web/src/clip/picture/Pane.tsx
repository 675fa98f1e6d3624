import { useEffect, useLayoutEffect, useRef, type CSSProperties, type ReactNode } from 'react';
import type { ShownFrame } from './useShown.js';
import { toStage, type Size, type View } from './view.js';

/** A reduced picture is drawn finely once the hand rests. */
const REST_MS = 120;

interface Props {
  readonly name: string;
  readonly shown: ShownFrame;
  /** Drawn to the left of the split, where there is one. */
  readonly other?: ShownFrame;
  /** Laid over the picture, pixel on pixel. */
  readonly overlay?: ImageBitmap | null;
  /** Share of the width at which the split stands. */
  readonly split: number | null;
  readonly picture: Size;
  readonly view: View;
  readonly size: Size;
  /** Hidden while the playing copy is shown. */
  readonly hidden: boolean;
  /** Evidence and shapes, in pixels of the picture; `--px` is a screen pixel. */
  readonly children?: ReactNode;
}

/** One picture, drawn pixel by pixel as it lies on the stage, with what is marked on it. */
export const Pane = ({
  name,
  shown,
  other,
  overlay,
  split,
  picture,
  view,
  size,
  hidden,
  children,
}: Props) => {
  const canvas = useRef<HTMLCanvasElement>(null);
  const dense = window.devicePixelRatio || 1;
  const { width, height } = size;
  useLayoutEffect(() => {
    const node = canvas.current;
    if (!node) return;
    const [w, h] = [Math.round(width * dense), Math.round(height * dense)];
    if (node.width !== w || node.height !== h) Object.assign(node, { width: w, height: h });
  }, [width, height, dense]);
  useLayoutEffect(() => {
    const pen = canvas.current?.getContext('2d', { alpha: false });
    if (!pen || hidden) return;
    drawAll(pen, view, size, picture, dense, shown, other, split, 'low', overlay);
    if (canvas.current) canvas.current.dataset.frame = String(shown.frame);
  }, [view, size, picture, dense, shown, other, overlay, split, hidden]);
  useEffect(() => {
    if (view.scale >= 1 || hidden) return;
    const rest = setTimeout(() => {
      const pen = canvas.current?.getContext('2d', { alpha: false });
      if (pen) drawAll(pen, view, size, picture, dense, shown, other, split, 'high', overlay);
    }, REST_MS);
    return () => clearTimeout(rest);
  }, [view, size, picture, dense, shown, other, overlay, split, hidden]);
  const [left, top] = toStage(view, size, 0, 0);
  return (
    <>
      <canvas
        ref={canvas}
        role="img"
        aria-label={shown.shown ? `${name}, frame ${shown.frame}` : `${name}, no exact picture yet`}
        className="absolute inset-0 h-full w-full"
        style={{ visibility: hidden ? 'hidden' : 'visible' }}
      />
      <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden>
        <g
          transform={`translate(${left} ${top}) scale(${view.scale})`}
          style={{ '--px': 1 / view.scale } as CSSProperties}
        >
          {children}
        </g>
      </svg>
    </>
  );
};

const WELL = '#5f5f5f';

const drawAll = (
  pen: CanvasRenderingContext2D,
  view: View,
  size: Size,
  picture: Size,
  dense: number,
  shown: ShownFrame,
  other: ShownFrame | undefined,
  split: number | null,
  quality: ImageSmoothingQuality,
  overlay: ImageBitmap | null | undefined,
): void => {
  const { width, height } = pen.canvas;
  pen.setTransform(1, 0, 0, 1, 0, 0);
  pen.fillStyle = WELL;
  pen.fillRect(0, 0, width, height);
  const at = split === null ? 0 : Math.round(split * width);
  const draw = (frame: ShownFrame, from: number, to: number): void => {
    if (!frame.shown || to <= from) return;
    pen.save();
    pen.beginPath();
    pen.rect(from, 0, to - from, height);
    pen.clip();
    drawBitmap(pen, frame.shown.bitmap, view, size, picture, dense, quality);
    pen.restore();
  };
  if (split !== null && other) draw(other, 0, at);
  draw(shown, at, width);
  if (overlay) drawBitmap(pen, overlay, view, size, picture, dense, quality);
  if (split !== null) {
    pen.fillStyle = '#f4f4f4';
    pen.fillRect(at - 1, 0, 3, height);
    pen.fillStyle = '#141414';
    pen.fillRect(at, 0, 1, height);
  }
};

/** Only the part that is seen is drawn; enlarged pixels stay squares. */
const drawBitmap = (
  pen: CanvasRenderingContext2D,
  bitmap: ImageBitmap,
  view: View,
  size: Size,
  picture: Size,
  dense: number,
  quality: ImageSmoothingQuality,
): void => {
  // A bitmap that was closed in the meantime has no size.
  if (bitmap.width === 0) return;
  const scale = view.scale * dense;
  const [left, top] = toStage(view, size, 0, 0).map((v) => v * dense);
  const x0 = Math.max(0, Math.floor(-left / scale));
  const y0 = Math.max(0, Math.floor(-top / scale));
  const x1 = Math.min(picture.width, Math.ceil((pen.canvas.width - left) / scale));
  const y1 = Math.min(picture.height, Math.ceil((pen.canvas.height - top) / scale));
  if (x1 <= x0 || y1 <= y0) return;
  pen.imageSmoothingEnabled = scale < 1;
  pen.imageSmoothingQuality = quality;
  // At whole scales the pixels lie on whole pixels of the screen.
  const even = Number.isInteger(scale) ? Math.round : (v: number): number => v;
  pen.drawImage(
    bitmap,
    x0,
    y0,
    x1 - x0,
    y1 - y0,
    even(left) + x0 * scale,
    even(top) + y0 * scale,
    (x1 - x0) * scale,
    (y1 - y0) * scale,
  );
};
