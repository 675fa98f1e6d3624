import { useRef } from 'react';
import type { Clip } from '@bevrin/contract';
import { SHOWN_CHANNELS, type ShownChannel } from '@bevrin/core/inspect';
import { NOISE_GAIN } from '../bench.js';
import { useBench } from '../useBench.js';
import { CLOSE, useStage, type Stage } from './stage.js';
import { TOOLS, type Tool } from './tools.js';
import { ViewingChoice } from './ViewingChoice.js';

const CHANNEL_NAMES: Record<ShownChannel, string> = {
  colour: 'Colour',
  luma: 'Luma',
  cb: 'Cb',
  cr: 'Cr',
  red: 'Red',
  green: 'Green',
  blue: 'Blue',
};

interface Props {
  readonly stage: Stage;
  readonly others: readonly Clip[];
  readonly besideId: string;
  readonly onBeside: (id: string) => void;
  readonly onViewingError: (text: string) => void;
  /** Whether something may be drawn on the picture to overrule by. */
  readonly draws: boolean;
}

/** How the picture is looked at: its channel, through what, how close, beside which other, and what the pointer does. */
export const PictureBar = ({ stage, others, besideId, onBeside, onViewingError, draws }: Props) => {
  const [bench, set] = useBench();
  const group = useRef<HTMLDivElement>(null);
  return (
    <div
      role="toolbar"
      aria-label="Picture"
      className="flex flex-wrap items-center gap-x-2.5 gap-y-1 border-b border-ink bg-sheet px-2 py-1 text-sm"
    >
      <div ref={group} role="group" aria-label="Channel" className="flex">
        {SHOWN_CHANNELS.map((c) => (
          <button
            key={c}
            aria-pressed={bench.channel === c && bench.noiseGain === null}
            onClick={() => set({ channel: c, noiseGain: null })}
            className="border-b-2 border-transparent px-1 py-0.5 aria-pressed:border-ink aria-pressed:font-semibold"
          >
            {CHANNEL_NAMES[c]}
          </button>
        ))}
        <button
          aria-pressed={bench.noiseGain !== null}
          onClick={() => set({ noiseGain: bench.noiseGain === null ? NOISE_GAIN : null })}
          title={`Neighbouring frames, registered, one taken from the other; ${NOISE_GAIN} times amplified`}
          className="border-b-2 border-transparent px-1 py-0.5 aria-pressed:border-ink aria-pressed:font-semibold"
        >
          Noise ×{NOISE_GAIN}
        </button>
      </div>
      <ViewingChoice onError={onViewingError} />
      {draws && <ToolChoice />}
      {others.length > 0 && <BesideChoice others={others} besideId={besideId} onBeside={onBeside} />}
      <span className="ml-auto">
        <Scale stage={stage} />
      </span>
    </div>
  );
};

const ToolChoice = () => {
  const [bench, set] = useBench();
  return (
    <label className="flex items-center gap-1">
      <span className="sr-only">What the pointer does</span>
      <select
        className={`w-28 border bg-slip px-1 py-0.5 ${bench.tool === 'look' ? 'border-rule' : 'border-ink'}`}
        value={bench.tool}
        onChange={(e) => {
          set({ tool: e.target.value as Tool });
          e.target.blur(); // the arrow keys go back to the frames
        }}
      >
        {Object.entries(TOOLS).map(([value, name]) => (
          <option key={value} value={value}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
};

/** Which other clip of the batch stands beside this one. */
const BesideChoice = ({ others, besideId, onBeside }: Pick<Props, 'others' | 'besideId' | 'onBeside'>) => (
  <select
    aria-label="Clip to look at beside this one"
    className={`w-24 border bg-slip px-1 py-0.5 ${besideId ? 'border-ink' : 'border-rule'}`}
    value={besideId}
    onChange={(e) => {
      onBeside(e.target.value);
      e.target.blur();
    }}
  >
    <option value="">alone</option>
    {others.map((c) => (
      <option key={c.id} value={c.id}>
        {c.name}
      </option>
    ))}
  </select>
);

const Scale = ({ stage }: { stage: Stage }) => {
  const { view, whole } = useStage(stage);
  const name = (scale: number, text: string, go: () => void, on: boolean) => (
    <button
      key={text}
      aria-pressed={on}
      title={`${Math.round(100 * scale)} %`}
      onClick={go}
      className="border-b-2 border-transparent px-1 py-0.5 aria-pressed:border-ink aria-pressed:font-semibold"
    >
      {text}
    </button>
  );
  return (
    <span className="flex items-center" role="group" aria-label="Size of the picture">
      {name(view.scale, 'whole', () => stage.whole(), whole)}
      {name(1, 'actual', () => stage.scaleTo(1), !whole && view.scale === 1)}
      {name(CLOSE, `${CLOSE} ×`, () => stage.scaleTo(CLOSE), view.scale === CLOSE)}
      <span className="ml-1 inline-block w-12 text-right" data-testid="scale">
        {Math.round(100 * view.scale)} %
      </span>
    </span>
  );
};
