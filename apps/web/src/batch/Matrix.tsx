import { useEffect, useRef, useState, type MouseEvent } from 'react';
import { DEFECT_NAMES, DEFECTS, type Clip } from '@bevrin/contract';
import { useSize } from '../parts/useSize.js';
import { hatchFor, INK } from '../parts/hatch.js';
import { findingFor } from '../parts/severity.js';

const LANE = 15;
const GUTTER = 112;
/** A clip never takes more room than this, px. */
const WIDEST = 56;
/** Below this width a bar is a line, and a hatch would be noise. */
const THIN = 5;

interface Props {
  readonly clips: readonly Clip[];
  readonly cursor: string | null;
  readonly onChoose: (id: string) => void;
}

/** Clips × defects as one picture: a lane for each defect, a column for each clip, in the order of the list. */
export const Matrix = ({ clips, cursor, onChoose }: Props) => {
  const paper = useRef<HTMLCanvasElement>(null);
  const [box, { width: all }] = useSize<HTMLDivElement>();
  const [over, setOver] = useState<Clip | null>(null);
  const width = Math.max(0, all - GUTTER);
  const column = Math.min(WIDEST, width / Math.max(1, clips.length));
  const height = DEFECTS.length * LANE;
  useEffect(() => {
    const canvas = paper.current;
    const pen = canvas?.getContext('2d');
    if (!canvas || !pen || width <= 0) return;
    const dense = window.devicePixelRatio || 1;
    canvas.width = width * dense;
    canvas.height = height * dense;
    pen.scale(dense, dense);
    draw(pen, clips, column, cursor);
  }, [clips, width, height, column, cursor]);
  const at = (e: MouseEvent): Clip | null => {
    const { left } = e.currentTarget.getBoundingClientRect();
    return clips[Math.floor((e.clientX - left) / column)] ?? null;
  };
  return (
    <div
      ref={box}
      role="img"
      aria-label={`Severities of ${clips.length} clips by defect`}
      className="relative flex shrink-0 border-b border-ink bg-sheet pl-5"
      style={{ height: height + 1 }}
    >
      <div className="shrink-0 text-xs text-soft" style={{ width: GUTTER - 20 }} aria-hidden>
        {DEFECTS.map((d) => (
          <div key={d} style={{ height: LANE, lineHeight: `${LANE}px` }}>
            {DEFECT_NAMES[d]}
          </div>
        ))}
      </div>
      <canvas
        ref={paper}
        style={{ width, height }}
        className="cursor-crosshair"
        title={over ? over.name : undefined}
        onMouseMove={(e) => setOver(at(e))}
        onClick={(e) => {
          const clip = at(e);
          if (clip) onChoose(clip.id);
        }}
      />
    </div>
  );
};

const draw = (
  pen: CanvasRenderingContext2D,
  clips: readonly Clip[],
  column: number,
  cursor: string | null,
): void => {
  const { width } = pen.canvas;
  pen.clearRect(0, 0, width, DEFECTS.length * LANE);
  const hatch = hatchFor(pen);
  const at = clips.findIndex((c) => c.id === cursor);
  if (at >= 0) {
    pen.fillStyle = '#fafafa';
    pen.fillRect(at * column, 0, Math.max(2, column), DEFECTS.length * LANE);
  }
  DEFECTS.forEach((defect, lane) => {
    const floor = (lane + 1) * LANE - 0.5;
    pen.fillStyle = '#bcbcbc';
    pen.fillRect(0, floor, width, 0.75);
    // Where several clips share a pixel, the worst is drawn last and tallest.
    clips.forEach((clip, i) => {
      const finding = findingFor(clip, defect);
      if (!finding || finding.severity <= 0) return;
      const tall = Math.max(1, (finding.severity / 100) * (LANE - 2));
      const wide = Math.max(1, column < THIN ? column : column - 2);
      const left = i * column + (column < THIN ? 0 : 1);
      pen.fillStyle =
        finding.verdict === 'fail'
          ? INK
          : finding.verdict === 'marginal'
            ? column < THIN
              ? '#6a6a6a'
              : hatch
            : '#b4b4b4';
      pen.fillRect(left, floor - tall, wide, tall);
      if (finding.verdict !== 'pass' && column >= THIN) {
        pen.strokeStyle = INK;
        pen.lineWidth = 0.75;
        pen.strokeRect(left + 0.4, floor - tall, wide - 0.8, tall);
      }
    });
  });
};
