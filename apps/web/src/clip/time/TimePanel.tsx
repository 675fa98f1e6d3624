import { useEffect, useLayoutEffect, useRef, useState, type PointerEvent } from 'react';
import {
  DEFECT_NAMES,
  DEFECT_SHORT_NAMES,
  DEFECTS,
  figureAt,
  STRIP_PICTURES,
  type ClipDetail,
  type Defect,
  type Finding,
  type FrameNote,
  type Measurement,
} from '@bevrin/contract';
import { useCommands } from '../../parts/commands.js';
import { amount, timeText } from '../../parts/format.js';
import { useSize } from '../../parts/useSize.js';
import type { InOut } from '../inOut.js';
import type { ReturnedLane } from '../recheck/useRechecking.js';
import { drawTime, LANE, RULER, STRIP, TALL } from './draw.js';
import { shifted, showing, stretched, wholeTime, type TimeWindow } from './window.js';

/** Counts that a lane head has no room to name. */
const UNITLESS = new Set(['places', 'spots', 'a frame']);
/** Room for the longest name of a defect beside its figure. */
const GUTTER = 188;
const CLOSER = 0.6;

interface Props {
  readonly clip: ClipDetail;
  readonly frames: number;
  readonly rate: number;
  readonly frame: number;
  readonly notes: readonly FrameNote[];
  readonly inOut: InOut;
  /** A repaired file that is looked at, on the same ruler. */
  readonly returned: ReturnedLane | null;
  readonly onGo: (frame: number) => void;
  readonly selected: Defect;
  readonly onSelect: (defect: Defect) => void;
}

/** One shared ruler of time, a film strip and a lane for each defect, like the paper of a chart recorder. */
export const TimePanel = (props: Props) => {
  const { clip, frames, rate, frame, notes, inOut, returned, onGo, selected, onSelect } = props;
  const { measurement, judgement } = clip;
  const findings = judgement?.findings ?? NONE;
  const [paper, { width }] = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const [placed, setPlaced] = useState({ window: wholeTime(frames), at: frame });
  // Where the hand left it, until one goes to a frame out of sight.
  const seen = frame === placed.at ? placed.window : showing(placed.window, frame, frames);
  const place = (window: TimeWindow): void => setPlaced({ window, at: frame });
  const strip = useStrip(clip);
  const [from, to] = [seen.from, seen.to];
  useLayoutEffect(() => {
    const node = canvas.current;
    const pen = node?.getContext('2d');
    if (!node || !pen || width <= 0) return;
    const dense = window.devicePixelRatio || 1;
    node.width = Math.round(width * dense);
    node.height = TALL * dense;
    pen.scale(dense, dense);
    drawTime(pen, width, {
      window: { from, to },
      frames,
      rate,
      measurement,
      findings,
      returned,
      notes,
      inOut,
      selected,
      strip,
      pictures: Math.min(STRIP_PICTURES, frames),
    });
  }, [width, from, to, frames, rate, measurement, findings, returned, notes, inOut, selected, strip]);
  useWheel(paper, (e, share) => {
    const by = Math.abs(e.deltaX) > Math.abs(e.deltaY) ? e.deltaX : e.shiftKey ? e.deltaY : 0;
    place(
      by !== 0
        ? shifted(seen, (by / 800) * (to - from), frames)
        : stretched(seen, 1.2 ** (e.deltaY / 100), from + share * (to - from), frames),
    );
  });
  useCommands('Time', [
    { name: 'Ruler: closer', keys: 'shift+equal', run: () => place(stretched(seen, CLOSER, frame, frames)) },
    {
      name: 'Ruler: farther',
      keys: 'shift+minus',
      run: () => place(stretched(seen, 1 / CLOSER, frame, frames)),
    },
    { name: 'Ruler: the whole clip', keys: 'shift+0', run: () => place(wholeTime(frames)) },
  ]);
  const scrub = (e: PointerEvent): void => {
    const box = paper.current?.getBoundingClientRect();
    if (box && (e.buttons & 1 || e.type === 'pointerdown'))
      onGo(Math.floor(from + ((e.clientX - box.left) / box.width) * (to - from)));
  };
  return (
    <section aria-label="Time" className="flex shrink-0 bg-sheet select-none" style={{ height: TALL }}>
      <div
        role="group"
        aria-label="Defects"
        className="shrink-0 border-r border-ink"
        style={{ width: GUTTER, paddingTop: returned ? 0 : STRIP + RULER }}
      >
        {returned && (
          <p className="px-3 pt-1 text-xs text-soft" style={{ height: STRIP + RULER }}>
            filled: the original; thick line: version {returned.version}
          </p>
        )}
        {DEFECTS.map((d) => (
          <LaneHead
            key={d}
            defect={d}
            clip={clip}
            returned={returned}
            current={d === selected}
            onSelect={onSelect}
          />
        ))}
      </div>
      <div
        ref={paper}
        role="slider"
        tabIndex={0}
        aria-label="Frame"
        aria-valuemin={0}
        aria-valuemax={frames - 1}
        aria-valuenow={frame}
        aria-valuetext={`frame ${frame}, ${timeText(frame, rate)}`}
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          scrub(e);
        }}
        onPointerMove={scrub}
        className="relative min-w-0 flex-1 cursor-crosshair overflow-hidden"
      >
        <canvas ref={canvas} className="absolute inset-0 h-full w-full" />
        <div
          className="pointer-events-none absolute inset-y-0 w-px bg-ink outline outline-[0.5px] outline-white"
          style={{ left: `${((frame + 0.5 - from) / (to - from)) * 100}%` }}
        />
      </div>
    </section>
  );
};

const NONE: [] = [];

/** The same reading of another measurement; `null` where that has none. */
const readingOf = ({ readings }: Measurement, { defect, reading }: Finding): number | null => {
  const value = defect === 'conform' ? null : figureAt(readings, `${defect}.${reading}`);
  return typeof value === 'number' ? value : null;
};

const LaneHead = ({
  defect,
  clip: { measurement, judgement },
  returned,
  current,
  onSelect,
}: {
  defect: Defect;
  clip: ClipDetail;
  returned: ReturnedLane | null;
  current: boolean;
  onSelect: (d: Defect) => void;
}) => {
  const finding = judgement?.findings.find((f) => f.defect === defect);
  const measured = measurement?.readings[defect].state === 'measured';
  const after = finding && returned ? readingOf(returned.measurement, finding) : null;
  return (
    <button
      aria-pressed={current}
      onClick={() => onSelect(defect)}
      className={`flex w-full items-center gap-2 border-t border-hair px-3 text-left text-sm ${current ? 'bg-ink text-white' : ''}`}
      style={{ height: LANE }}
    >
      <span className="flex-1 truncate">{(after === null ? DEFECT_NAMES : DEFECT_SHORT_NAMES)[defect]}</span>
      <span className={`${current ? '' : 'text-soft'} ${after === null ? '' : 'text-xs'}`}>
        {finding?.value != null
          ? `${amount(finding.value, UNITLESS.has(finding.unit) ? '' : finding.unit)}${after !== null ? ` → ${amount(after, '')}` : ''}`
          : measured
            ? 'measured'
            : '–'}
      </span>
    </button>
  );
};

/** The film strip, once it is there. */
const useStrip = ({ id, proxy }: ClipDetail): HTMLImageElement | null => {
  const [strip, setStrip] = useState<HTMLImageElement | null>(null);
  useEffect(() => {
    if (proxy === null) return;
    const image = new Image();
    image.onload = () => setStrip(image);
    image.src = `/api/clips/${id}/strip.jpg?of=${proxy}`;
    return () => void (image.onload = null);
  }, [id, proxy]);
  return strip;
};

const useWheel = (
  element: { readonly current: HTMLElement | null },
  turned: (e: WheelEvent, share: number) => void,
): void => {
  const latest = useRef(turned);
  useEffect(() => void (latest.current = turned));
  useEffect(() => {
    const node = element.current;
    if (!node) return;
    const wheel = (e: WheelEvent): void => {
      e.preventDefault();
      const { left, width } = node.getBoundingClientRect();
      latest.current(e, (e.clientX - left) / width);
    };
    node.addEventListener('wheel', wheel, { passive: false });
    return () => node.removeEventListener('wheel', wheel);
  }, [element]);
};
