import { useEffect, useMemo, useState } from 'react';
import type { ClipDetail, ClipFacts } from '@bevrin/contract';
import type { LineProfile, PatchReading } from '@bevrin/core/inspect';
import { amount } from '../../parts/format.js';
import { Chart } from '../evidence/Chart.js';
import { pictures } from '../picture/pictures.js';
import type { Drawn, Point } from '../picture/tools.js';
import type { InOut } from '../inOut.js';
import { useBench } from '../useBench.js';
import type { Overruling } from './useOverrule.js';

interface Props {
  readonly clip: ClipDetail & { facts: ClipFacts };
  readonly frame: number;
  readonly drawn: Drawn;
  readonly inOut: InOut;
  readonly overruling: Overruling;
  readonly onDrop: () => void;
}

/** What was drawn last: what the page reads in it at once, and what it can be used for. */
export const DrawnHere = ({ clip, frame, drawn, inOut, overruling: { change }, onDrop }: Props) => {
  const keep = async (part: Parameters<typeof change>[0]): Promise<void> => {
    if (await change(part)) onDrop();
  };
  const masks = clip.overrides.masks ?? [];
  const set = inOut.from !== null || inOut.to !== null;
  const mask = (shape: Extract<Drawn, { shape: unknown }>['shape']): void =>
    void keep({
      masks: [
        ...masks,
        {
          shape,
          ...(set && {
            frames: { startFrame: inOut.from ?? 0, endFrame: inOut.to ?? clip.facts.frames - 1 },
          }),
        },
      ],
    });
  return (
    <section aria-label="Drawn" className="border-b border-ink py-2">
      {drawn.tool === 'line' ? (
        <LineReading clip={clip} frame={frame} from={drawn.from} to={drawn.to} />
      ) : drawn.tool === 'polygon' ? (
        <p>A polygon of {drawn.shape.points.length} corners.</p>
      ) : (
        <PatchReading clip={clip} frame={frame} shape={drawn.shape} />
      )}
      <p className="mt-2 flex flex-wrap gap-2">
        {'shape' in drawn && drawn.shape.kind === 'rectangle' && (
          <>
            <button className="button" onClick={() => void keep({ noisePatch: plain(drawn.shape) })}>
              Use as the flat patch
            </button>
            <button className="button" onClick={() => void keep({ interest: plain(drawn.shape) })}>
              Use as the region of interest
            </button>
          </>
        )}
        {'shape' in drawn && (
          <button className="button" onClick={() => mask(drawn.shape)}>
            {set ? 'Mask it from in to out' : 'Mask it'}
          </button>
        )}
        <button className="button" onClick={onDrop}>
          Drop
        </button>
      </p>
    </section>
  );
};

const plain = (shape: Extract<Drawn, { shape: unknown }>['shape']) => {
  if (shape.kind !== 'rectangle') throw new Error('only a rectangle can be a patch');
  const { x, y, width, height } = shape;
  return { x, y, width, height };
};

/** The result of something that the web worker works out; `null` until it is there. */
const useAnswer = <T,>(ask: () => Promise<T>, key: string): { answer: T | null; failed: string | null } => {
  const [state, setState] = useState<{ key: string; answer: T | null; failed: string | null }>({
    key: '',
    answer: null,
    failed: null,
  });
  useEffect(() => {
    let gone = false;
    ask().then(
      (answer) => !gone && setState({ key, answer, failed: null }),
      (error: Error) => !gone && setState({ key, answer: null, failed: error.message }),
    );
    return () => void (gone = true);
    // The key says all that the question depends on.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  return state.key === key ? state : { answer: null, failed: null };
};

const PatchReading = ({
  clip,
  frame,
  shape,
}: Pick<Props, 'clip' | 'frame'> & { shape: { x: number; y: number; width: number; height: number } }) => {
  const [{ viewing, through }] = useBench();
  const { x, y, width, height } = shape;
  const seenThrough = through ? viewing : null;
  const { answer, failed } = useAnswer<PatchReading>(
    () =>
      pictures().patch(
        { clipId: clip.id, content: clip.content, frame, facts: clip.facts },
        { x, y, width, height },
        seenThrough,
      ),
    JSON.stringify([clip.id, frame, shape, seenThrough]),
  );
  return (
    <div data-testid="patch-reading">
      <p className="font-semibold">
        {width} × {height} px at {x}, {y}, frames {frame} and {frame + 1}
      </p>
      {failed && <p role="alert">{failed}</p>}
      {!answer && !failed && <p className="text-soft">being read …</p>}
      {answer && <p>level {amount(answer.levelPct, '%')}</p>}
      {answer?.noise.state === 'notMeasurable' && <p>Noise: {answer.noise.reason}</p>}
      {answer?.noise.state === 'measured' && (
        <dl className="grid grid-cols-[repeat(3,auto_1fr)] gap-x-2">
          {(
            [
              ['luma σ', answer.noise.values.lumaPct],
              ['Cb σ', answer.noise.values.cbPct],
              ['Cr σ', answer.noise.values.crPct],
              ['red σ', answer.noise.values.redPct],
              ['green σ', answer.noise.values.greenPct],
              ['blue σ', answer.noise.values.bluePct],
              ...(answer.noise.values.gradedLumaPct === undefined
                ? []
                : [['as viewed σ', answer.noise.values.gradedLumaPct] as const]),
            ] as const
          ).map(([name, value]) => (
            <div key={name} className="contents">
              <dt className="text-soft">{name}</dt>
              <dd>{amount(value, '%')}</dd>
            </div>
          ))}
        </dl>
      )}
    </div>
  );
};

const LineReading = ({
  clip,
  frame,
  from,
  to,
}: Pick<Props, 'clip' | 'frame'> & { from: Point; to: Point }) => {
  const { answer, failed } = useAnswer<LineProfile>(
    () => pictures().line({ clipId: clip.id, content: clip.content, frame, facts: clip.facts }, from, to),
    JSON.stringify([clip.id, frame, from, to]),
  );
  const curve = useMemo(
    () => ({
      x: answer?.profile.map((p) => p.atPx) ?? [],
      y: answer?.profile.map((p) => p.levelPct) ?? [],
    }),
    [answer],
  );
  return (
    <div data-testid="line-reading">
      {failed && <p role="alert">{failed}</p>}
      {!answer && !failed && <p className="text-soft">being read …</p>}
      {answer && (
        <>
          <p className="font-semibold">
            {answer.blurSigmaPx === null
              ? 'No single step lies under this line: blur cannot be told.'
              : `Blur of the edge: σ ${answer.blurSigmaPx.toFixed(2)} px, known to ${amount(answer.errorPx, 'px')}`}
          </p>
          <Chart title="Under the line" xTitle="along the line, px" yTitle="level, %" curve={curve} />
        </>
      )}
    </div>
  );
};
