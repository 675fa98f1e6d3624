import type { FormEvent } from 'react';
import {
  CAMERA_KINDS,
  type CameraIntent,
  type ClipDetail,
  type ClipFacts,
  type FrameNote,
} from '@bevrin/contract';
import { NameField } from '../../parts/NameField.js';
import { Progress } from '../../parts/VerdictMark.js';
import { Take } from '../../parts/Take.js';
import { useDraft } from '../../parts/useDraft.js';
import { viewingText } from '../../plan/History.js';
import type { Drawn } from '../picture/tools.js';
import type { InOut } from '../inOut.js';
import { useBench } from '../useBench.js';
import { DrawnHere } from './DrawnHere.js';
import { PlaceFields } from './PlaceFields.js';
import type { Overruling } from './useOverrule.js';

interface Props {
  readonly clip: ClipDetail & { facts: ClipFacts };
  readonly overruling: Overruling;
  readonly frame: number;
  readonly inOut: InOut;
  readonly drawn: Drawn | null;
  readonly onDrop: () => void;
  readonly notes: readonly FrameNote[];
  readonly onGo: (frame: number) => void;
}

/** What the technician decides about how this clip is measured. What the machine said on its own stays beside it. */
export const OverruleSheet = ({ clip, overruling, frame, inOut, drawn, onDrop, notes, onGo }: Props) => {
  const { change } = overruling;
  const { overrides, measurement } = clip;
  const camera =
    measurement?.readings.shake.state === 'measured' ? (clip.machine ?? measurement).readings.shake : null;
  const seen = camera?.state === 'measured' ? camera.values.camera : 'not told';
  return (
    <div className="text-sm">
      <div className="flex items-end gap-3 border-b border-hair py-2">
        <NameField />
        <span className="pb-0.5 text-soft">
          {clip.state === 'measured'
            ? Object.keys(overrides).length > 0
              ? 'measured as decided below'
              : 'measured by the machine alone'
            : ''}
        </span>
        {clip.state !== 'measured' && <Progress clip={clip} />}
      </div>
      {drawn && (
        <DrawnHere
          key={JSON.stringify(drawn)}
          clip={clip}
          frame={frame}
          drawn={drawn}
          inOut={inOut}
          overruling={overruling}
          onDrop={onDrop}
        />
      )}
      <Row name="Camera">
        <select
          aria-label="Camera intent"
          className="field"
          value={overrides.intent ?? ''}
          onChange={(e) => void change({ intent: (e.target.value || undefined) as CameraIntent | undefined })}
        >
          <option value="">as the machine sees it: {seen}</option>
          {CAMERA_KINDS.map((k) => (
            <option key={k} value={k}>
              meant to be {k}
            </option>
          ))}
        </select>
      </Row>
      <RangeRow overruling={overruling} clip={clip} inOut={inOut} />
      <Row name="Flat patch">
        <PlaceFields
          name="Flat patch"
          place={overrides.noisePatch ?? null}
          picture={clip.facts}
          tool="patch"
          onChange={(noisePatch) => void change({ noisePatch: noisePatch ?? undefined })}
        />
      </Row>
      <Row name="Region of interest">
        <PlaceFields
          name="Region of interest"
          place={overrides.interest ?? null}
          picture={clip.facts}
          tool="interest"
          onChange={(interest) => void change({ interest: interest ?? undefined })}
        />
      </Row>
      <MaskRows clip={clip} overruling={overruling} />
      <ViewingRow clip={clip} overruling={overruling} />
      <Notes clipId={clip.id} frame={frame} notes={notes} overruling={overruling} onGo={onGo} />
    </div>
  );
};

const Row = ({ name, children }: { name: string; children: React.ReactNode }) => (
  <div className="grid grid-cols-[7.5rem_1fr] items-baseline border-b border-hair py-1.5">
    <span className="text-soft">{name}</span>
    <div className="min-w-0">{children}</div>
  </div>
);

type Part = Pick<Props, 'clip' | 'overruling'>;

const RangeRow = ({ clip, overruling: { change }, inOut }: Part & { inOut: InOut }) => {
  const { range } = clip.overrides;
  const wanted = {
    startFrame: inOut.from ?? 0,
    endFrame: inOut.to ?? clip.facts.frames - 1,
  };
  const set = inOut.from !== null || inOut.to !== null;
  return (
    <Row name="Part of the clip">
      {range ? (
        <span>
          frames {range.startFrame} to {range.endFrame}{' '}
          <Take onClick={() => void change({ range: undefined })}>measure all of it</Take>
        </span>
      ) : (
        <button className="button" disabled={!set} onClick={() => void change({ range: wanted })}>
          {set
            ? `Measure frames ${wanted.startFrame} to ${wanted.endFrame} only`
            : 'all of it; set in or out first'}
        </button>
      )}
    </Row>
  );
};

const MaskRows = ({ clip, overruling: { change } }: Part) => {
  const masks = clip.overrides.masks ?? [];
  const [, set] = useBench();
  return (
    <Row name="Masks">
      {masks.map(({ shape, frames }, i) => (
        <p key={i}>
          {i + 1}:{' '}
          {shape.kind === 'rectangle'
            ? `${shape.width} × ${shape.height} px at ${shape.x}, ${shape.y}`
            : `polygon of ${shape.points.length} corners`}
          {frames ? `, frames ${frames.startFrame} to ${frames.endFrame}` : ', the whole time'}{' '}
          <Take onClick={() => void change({ masks: masks.filter((_, k) => k !== i) })}>remove</Take>
        </p>
      ))}
      <PlaceFields
        name="New mask"
        place={null}
        picture={clip.facts}
        tool="mask"
        onChange={(place) =>
          place && void change({ masks: [...masks, { shape: { kind: 'rectangle', ...place } }] })
        }
      />
      <button className="button mt-1" onClick={() => set({ tool: 'polygon' })}>
        Draw a polygon
      </button>
    </Row>
  );
};

const ViewingRow = ({ clip, overruling: { change } }: Part) => {
  const [{ viewing }] = useBench();
  const decided = clip.overrides.viewing;
  return (
    <Row name="Noise read through">
      {decided ? (
        <span>
          {viewingText(decided)}{' '}
          <Take onClick={() => void change({ viewing: undefined })}>read it plain</Take>
        </span>
      ) : (
        <button className="button" disabled={!viewing} onClick={() => viewing && void change({ viewing })}>
          {viewing ? `Read it through ${viewingText(viewing)}` : 'nothing; choose a viewing transform first'}
        </button>
      )}
    </Row>
  );
};

const Notes = ({
  clipId,
  frame,
  notes,
  overruling: { decide },
  onGo,
}: Pick<Props, 'frame' | 'notes' | 'overruling' | 'onGo'> & { clipId: string }) => {
  const [text, , setText] = useDraft(`frame-note ${clipId}`, '');
  const submit = async (e: FormEvent): Promise<void> => {
    e.preventDefault();
    if (await decide({ kind: 'frameNote', frame, text })) setText('');
  };
  return (
    <section aria-label="Notes on frames" className="py-2">
      <h3 className="heading">Notes on frames</h3>
      <ul>
        {notes.map((n, i) => (
          <li key={i} className="border-b border-hair py-1">
            <button className="font-semibold hover:underline" onClick={() => onGo(n.frame)}>
              frame {n.frame}
            </button>{' '}
            {n.text} <span className="text-soft">{n.who}</span>
          </li>
        ))}
      </ul>
      <form onSubmit={submit} className="mt-1 flex gap-2">
        <input
          aria-label={`Note on frame ${frame}`}
          placeholder={`note on frame ${frame}`}
          required
          maxLength={2000}
          className="min-w-0 flex-1 field"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <button className="button">Add</button>
      </form>
    </section>
  );
};
