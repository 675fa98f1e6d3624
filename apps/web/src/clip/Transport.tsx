import { SPEEDS } from './bench.js';
import { timeText } from '../parts/format.js';
import { inAt, NO_IN_OUT, outAt, type InOut } from './inOut.js';
import { useBench } from './useBench.js';
import type { Playhead } from './usePlayhead.js';

interface Props {
  readonly playhead: Playhead;
  readonly frames: number;
  readonly rate: number;
  readonly inOut: InOut;
  readonly onInOut: (inOut: InOut) => void;
}

/** Where one is, and the ways to go on. */
export const Transport = ({
  playhead: { frame, playing, go, toggle },
  frames,
  rate,
  inOut,
  onInOut,
}: Props) => {
  const [{ speed, loop, marks, grid }, set] = useBench();
  return (
    <div
      className="flex items-center gap-2 border-y border-ink bg-sheet px-3 py-1 text-sm whitespace-nowrap"
      role="toolbar"
      aria-label="Frames"
    >
      <button className="button" aria-label="First frame" onClick={() => go(0)}>
        <Pointer back toEnd />
      </button>
      <button className="button" aria-label="One frame back" onClick={() => go(frame - 1)}>
        <Pointer back />
      </button>
      <button className="button w-14" onClick={toggle}>
        {playing ? 'Stop' : 'Play'}
      </button>
      <button className="button" aria-label="One frame on" onClick={() => go(frame + 1)}>
        <Pointer />
      </button>
      <button className="button" aria-label="Last frame" onClick={() => go(frames - 1)}>
        <Pointer toEnd />
      </button>
      <span className="ml-2">
        frame <b className="inline-block min-w-8 text-right font-semibold">{frame}</b> of {frames}
      </span>
      <span className="ml-1 text-soft" title="minutes : seconds . frames">
        {timeText(frame, rate)}
      </span>
      <span className="ml-auto flex items-center gap-2">
        <Check name="marks" checked={marks} onChange={(on) => set({ marks: on })} />
        <Check name="grid" checked={grid} onChange={(on) => set({ grid: on })} />
        <button
          className="button"
          aria-label="Set the in point here"
          onClick={() => onInOut(inAt(inOut, frame))}
        >
          in {inOut.from ?? '–'}
        </button>
        <button
          className="button"
          aria-label="Set the out point here"
          onClick={() => onInOut(outAt(inOut, frame))}
        >
          out {inOut.to ?? '–'}
        </button>
        {(inOut.from !== null || inOut.to !== null) && (
          <button className="underline decoration-rule underline-offset-4" onClick={() => onInOut(NO_IN_OUT)}>
            clear
          </button>
        )}
        <Check name="loop" checked={loop} onChange={(on) => set({ loop: on })} />
        <label>
          <span className="sr-only">Speed</span>
          <select
            className="field"
            value={speed}
            onChange={(e) => {
              set({ speed: Number(e.target.value) });
              e.target.blur(); // the arrow keys go back to the frames
            }}
          >
            {SPEEDS.map((s) => (
              <option key={s} value={s}>
                {s} ×
              </option>
            ))}
          </select>
        </label>
      </span>
    </div>
  );
};

const Check = ({
  name,
  checked,
  onChange,
}: {
  name: string;
  checked: boolean;
  onChange: (on: boolean) => void;
}) => (
  <label className="flex items-center gap-1">
    <input
      type="checkbox"
      className="accent-ink"
      checked={checked}
      onChange={(e) => onChange(e.target.checked)}
    />
    {name}
  </label>
);

/** An open triangle that points on or back, before a bar where it leads to the end: drawn, for no face of the text has one. */
const Pointer = ({ back = false, toEnd = false }: { readonly back?: boolean; readonly toEnd?: boolean }) => (
  <svg
    width={toEnd ? 17 : 13}
    height="12"
    fill="none"
    stroke="currentColor"
    className={back ? 'inline align-[-0.1em] -scale-x-100' : 'inline align-[-0.1em]'}
    aria-hidden
  >
    <path d={`M1.5 1.5 L11.5 6 L1.5 10.5 Z${toEnd ? ' M15.5 0.5 V11.5' : ''}`} />
  </svg>
);
