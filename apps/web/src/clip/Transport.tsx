import { timeText } from '../parts/format.js';
import { ZOOMS, type Zoom } from './Picture.js';
import type { Playhead } from './usePlayhead.js';

interface Props {
  readonly playhead: Playhead;
  readonly frames: number;
  readonly rate: number;
  readonly zoom: Zoom;
  readonly onZoom: (zoom: Zoom) => void;
  readonly marks: boolean;
  readonly onMarks: (shown: boolean) => void;
}

const ZOOM_NAMES: Record<Zoom, string> = { whole: 'whole picture', 1: 'actual size', 4: '4 times' };

/** Where one is, and the ways to go on. */
export const Transport = ({
  playhead: { frame, playing, go, toggle },
  frames,
  rate,
  zoom,
  onZoom,
  marks,
  onMarks,
}: Props) => (
  <div
    className="flex items-center gap-2 border-y border-ink bg-sheet px-3 py-1 text-sm"
    role="toolbar"
    aria-label="Frames"
  >
    <button className="button" aria-label="First frame" onClick={() => go(0)}>
      |◁
    </button>
    <button className="button" aria-label="One frame back" onClick={() => go(frame - 1)}>
      ◁
    </button>
    <button className="button w-14" onClick={toggle}>
      {playing ? 'Stop' : 'Play'}
    </button>
    <button className="button" aria-label="One frame on" onClick={() => go(frame + 1)}>
      ▷
    </button>
    <button className="button" aria-label="Last frame" onClick={() => go(frames - 1)}>
      ▷|
    </button>
    <span className="ml-2 whitespace-nowrap">
      frame <b className="inline-block min-w-8 text-right font-semibold">{frame}</b> of {frames}
    </span>
    <span className="ml-2 whitespace-nowrap text-soft" title="minutes : seconds . frames">
      {timeText(frame, rate)}
    </span>
    <label className="ml-auto flex items-center gap-1.5 whitespace-nowrap">
      <input
        type="checkbox"
        className="accent-ink"
        checked={marks}
        onChange={(e) => onMarks(e.target.checked)}
      />
      marks
    </label>
    <label className="ml-3">
      <span className="sr-only">Size of the picture</span>
      <select
        className="border border-rule bg-slip px-1.5 py-0.5"
        value={String(zoom)}
        onChange={(e) => {
          onZoom(ZOOMS.find((z) => String(z) === e.target.value) ?? 'whole');
          e.target.blur(); // the arrow keys go back to the frames
        }}
      >
        {ZOOMS.map((z) => (
          <option key={z} value={String(z)}>
            {ZOOM_NAMES[z]}
          </option>
        ))}
      </select>
    </label>
  </div>
);
