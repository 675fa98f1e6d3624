import { useLayoutEffect, useRef, useState, type PointerEvent } from 'react';
import type { ClipFacts } from '@bevrin/contract';
import { useStage, type Stage } from '../picture/stage.js';
import { useShown } from '../picture/useShown.js';
import type { FrameName, Look } from '../picture/worker.js';
import { runValue, sweptName } from './words.js';
import type { OpenTrial } from './useTrying.js';

const TALL = 96;
const SCALES = [1, 2, 4] as const;

interface Props {
  /** The frame as it came. */
  readonly name: FrameName & { readonly facts: ClipFacts };
  readonly look: Look;
  readonly stage: Stage;
  readonly open: OpenTrial;
  readonly onChoose: (run: number) => void;
}

/** The same detail at each setting side by side, panned together. */
export const SweepStrip = ({ name, look, stage, open, onChoose }: Props) => {
  const [scale, setScale] = useState<number>(2);
  const { trial, trialId, run } = open;
  const { view, whole } = useStage(stage);
  // Of the whole picture the place is shown where most detail went; close by, the place that one looks at.
  const worst = trial.runs[run].worstAt.detailKeptPct;
  const at = whole && worst ? worst : { x: view.x, y: view.y };
  const pan = (dx: number, dy: number): void => {
    if (whole) stage.goTo(at.x - dx / scale, at.y - dy / scale, 2);
    else stage.pan((dx * view.scale) / scale, (dy * view.scale) / scale);
  };
  return (
    <div
      className="flex border-t border-ink bg-sheet text-xs"
      role="group"
      aria-label="The same detail at each setting"
    >
      <div className="flex w-24 shrink-0 flex-col justify-between border-r border-rule px-2 py-1">
        <span className="font-semibold">{sweptName(trial)}</span>
        <span role="group" aria-label="Size of the detail">
          {SCALES.map((s) => (
            <button
              key={s}
              aria-pressed={scale === s}
              onClick={() => setScale(s)}
              className="border-b-2 border-transparent px-1 aria-pressed:border-ink aria-pressed:font-semibold"
            >
              {s} ×
            </button>
          ))}
        </span>
      </div>
      <Detail index={-1} name={name} look={look} at={at} scale={scale} label="as it came" onPan={pan} />
      {trial.runs.map((_, i) => (
        <Detail
          key={`${trialId} ${i}`}
          index={i}
          name={{ ...name, tried: { trialId, run: i } }}
          look={look}
          at={at}
          scale={scale}
          label={`${runValue(trial, i)}${trial.choice.run === i ? ', proposed' : ''}`}
          chosen={i === run}
          onChoose={() => onChoose(i)}
          onPan={pan}
        />
      ))}
    </div>
  );
};

/** So far the hand may tremble while it presses, px. */
const TREMBLES = 3;

const Detail = ({
  index,
  name,
  look,
  at: { x, y },
  scale,
  label,
  chosen = false,
  onChoose,
  onPan,
}: {
  index: number;
  name: FrameName;
  look: Look;
  at: { readonly x: number; readonly y: number };
  scale: number;
  label: string;
  chosen?: boolean;
  onChoose?: () => void;
  onPan: (dx: number, dy: number) => void;
}) => {
  const canvas = useRef<HTMLCanvasElement>(null);
  const drag = useRef<{ x: number; y: number; far: number } | null>(null);
  const { shown, failed } = useShown(`detail ${index}`, name, look, true);
  useLayoutEffect(() => {
    const node = canvas.current;
    const pen = node?.getContext('2d', { alpha: false });
    if (!node || !pen) return;
    const dense = window.devicePixelRatio || 1;
    const [w, h] = [Math.round(node.clientWidth * dense), Math.round(TALL * dense)];
    if (node.width !== w || node.height !== h) Object.assign(node, { width: w, height: h });
    pen.fillStyle = '#5f5f5f';
    pen.fillRect(0, 0, w, h);
    if (!shown || shown.bitmap.width === 0) return;
    const k = scale * dense;
    const { width, height } = shown.bitmap;
    const left = Math.max(0, Math.min(width - w / k, x - w / k / 2));
    const top = Math.max(0, Math.min(height - h / k, y - h / k / 2));
    pen.imageSmoothingEnabled = false;
    pen.drawImage(shown.bitmap, -Math.round(left) * k, -Math.round(top) * k, width * k, height * k);
    node.dataset.shown = `${name.tried?.run ?? 'plain'} ${name.frame}`;
  }, [shown, x, y, scale, name.tried?.run, name.frame]);
  const move = (e: PointerEvent): void => {
    const from = drag.current;
    if (!from || !(e.buttons & 1)) return;
    const [dx, dy] = [e.clientX - from.x, e.clientY - from.y];
    drag.current = { x: e.clientX, y: e.clientY, far: from.far + Math.hypot(dx, dy) };
    if (drag.current.far > TREMBLES) onPan(dx, dy);
  };
  return (
    <button
      aria-pressed={chosen}
      aria-label={`${label}, the detail`}
      disabled={!onChoose}
      className={`min-w-0 flex-1 border-r border-rule text-left ${chosen ? 'bg-ink text-white' : ''}`}
      onPointerDown={(e) => {
        drag.current = { x: e.clientX, y: e.clientY, far: 0 };
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={move}
      onClick={() => (drag.current?.far ?? 0) <= TREMBLES && onChoose?.()}
    >
      <canvas ref={canvas} className="block w-full" style={{ height: TALL }} />
      <span className="block truncate px-1 py-0.5">{failed ?? label}</span>
    </button>
  );
};
