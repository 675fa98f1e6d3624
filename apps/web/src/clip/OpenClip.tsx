import { useCallback, useEffect, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import {
  DEFECTS,
  type Clip,
  type ClipDetail,
  type ClipFacts,
  type Defect,
  type Region,
} from '@bevrin/contract';
import { api } from '../api/client.js';
import { frameRateOf } from '../parts/format.js';
import { Hatches } from '../parts/severity.js';
import { OnPicture } from './evidence/OnPicture.js';
import type { Place } from './evidence/hot-pixels/places.js';
import { evidenceOf } from './evidence/registry.js';
import { useContours, useTiles } from './evidence/useOnPicture.js';
import { Decided } from './overrule/Decided.js';
import { useOverrule } from './overrule/useOverrule.js';
import { Beside } from './picture/Beside.js';
import { PictureBar } from './picture/PictureBar.js';
import { PictureStage } from './picture/PictureStage.js';
import { Stage } from './picture/stage.js';
import type { Drawn } from './picture/tools.js';
import { useExpect } from './picture/useExpect.js';
import { useShown } from './picture/useShown.js';
import { Sheet, type SheetPage } from './Sheet.js';
import { TimePanel } from './time/TimePanel.js';
import type { Bench } from './bench.js';
import { NO_IN_OUT, type InOut } from './inOut.js';
import { Transport } from './Transport.js';
import { useBench } from './useBench.js';
import { useClipCommands, useHeld } from './useClipCommands.js';
import { usePlayhead } from './usePlayhead.js';

interface Props {
  readonly clip: ClipDetail & { facts: ClipFacts };
  /** Whether the readings are there, too. */
  readonly complete: boolean;
  readonly others: readonly Clip[];
  /** Told when the first exact frame of a clip is on the screen, or cannot be. */
  readonly onPicture: (clipId: string) => void;
}

/** The defect that a technician wants to see first. */
const worstDefect = (clip: Clip): Defect =>
  clip.summary?.findings.map((f) => f.defect).find((d) => d !== 'conform') ?? DEFECTS[0];

const NO_NOTES: never[] = [];

/** The bench: the picture and its time, with the sheet of what was found beside it. */
export const OpenClip = ({ clip: told, complete, others, onPicture }: Props) => {
  const facts = useSame(told.facts);
  const clip = useMemo(() => ({ ...told, facts }), [told, facts]);
  const { measurement } = clip;
  const rate = frameRateOf(facts);
  const frames = measurement?.clip.frames ?? facts.frames;
  const [bench, set] = useBench();
  const [inOut, setInOut] = useState<InOut>(NO_IN_OUT);
  const [playhead, video] = usePlayhead(frames, rate, {
    speed: bench.speed,
    from: inOut.from ?? 0,
    to: inOut.to ?? frames - 1,
    loop: bench.loop,
  });
  const { frame, playing, go } = playhead;
  useExpect(clip.id, frame, playing, frames);
  const [chosen, setChosen] = useState<Defect | null>(null);
  const [page, setPage] = useState<SheetPage>('evidence');
  const [drawn, setDrawn] = useState<Drawn | null>(null);
  const [place, setPlace] = useState<Place | null>(null);
  const [cubeProblem, setCubeProblem] = useState('');
  const [search, setSearch] = useSearchParams();
  const stage = useMemo(() => new Stage({ width: facts.width, height: facts.height }), [facts]);
  const selected = chosen ?? worstDefect(clip);
  const overruling = useOverrule(clip);
  const { data: plan } = api.usePlanQuery(clip.id, { skip: !clip.judgement });
  const notes = plan?.frameNotes ?? NO_NOTES;

  const { name, look, through, shown, plain } = usePictures(clip, frame, playing, bench, onPicture);
  const marked = bench.marks && !playing;
  // The picture first: what is worked out of it waits until it is there.
  const there = shown.frame === frame && shown.clipId === clip.id ? name : null;
  const { asks } = evidenceOf(selected);
  const tiles = useTiles(marked && asks === 'tiles' ? there : null);
  const contours = useContours(marked && asks === 'contours' ? there : null, measurement);
  const { goTo, toEdge, onDrawn } = useGoing({ frame, go, stage, setPlace, setDrawn, setPage, set });
  useClipCommands({
    clip,
    playhead,
    frames,
    rate,
    stage,
    selected,
    onSelect: setChosen,
    inOut,
    onInOut: setInOut,
    onPage: setPage,
    drawn,
    onDrawn: setDrawn,
  });
  const overPicture = (
    <>
      {marked && measurement && (
        <OnPicture
          defect={selected}
          measurement={measurement}
          facts={facts}
          frame={frame}
          tiles={tiles}
          chosen={place?.number ?? null}
        />
      )}
      {!playing && <Decided overrides={clip.overrides} drawn={drawn} frame={frame} />}
    </>
  );
  const besideId = search.get('beside') ?? '';
  const other = others.find((c) => c.id === besideId && c.id !== clip.id && c.facts);
  return (
    <main className="flex min-h-0 flex-1 flex-col">
      <Hatches />
      <div className="flex min-h-0 flex-1">
        <div className="flex min-w-0 flex-1 flex-col">
          <PictureBar
            stage={stage}
            others={others.filter((c) => c.id !== clip.id && c.facts)}
            besideId={other?.id ?? ''}
            onBeside={(id) => setSearch(id ? { beside: id } : {}, { replace: true })}
            onViewingError={setCubeProblem}
          />
          {cubeProblem && (
            <p role="alert" className="border-b border-ink bg-slip px-3 py-1 text-sm">
              {cubeProblem}
            </p>
          )}
          <div className="flex min-h-0 flex-1">
            <PictureStage
              clip={clip}
              stage={stage}
              video={video}
              playhead={playhead}
              shown={shown}
              plain={plain}
              overlay={contours}
              split={through ? bench.split : null}
              onSplit={(split) => set({ split })}
              tool={bench.tool}
              onDrawn={onDrawn}
              grid={bench.grid}
            >
              {overPicture}
            </PictureStage>
            {other && (
              <Beside clip={other as Clip & { facts: ClipFacts }} stage={stage} frame={frame} look={look} />
            )}
          </div>
          <Transport playhead={playhead} frames={frames} rate={rate} inOut={inOut} onInOut={setInOut} />
        </div>
        <Sheet
          clip={clip}
          complete={complete}
          plan={plan ?? null}
          page={page}
          onPage={setPage}
          selected={selected}
          onSelect={setChosen}
          frame={frame}
          inOut={inOut}
          drawn={drawn}
          onDrop={() => setDrawn(null)}
          overruling={overruling}
          chosenPlace={place?.number ?? null}
          onPlace={goTo}
          onEdge={toEdge}
          onGo={go}
        />
      </div>
      <TimePanel
        clip={clip}
        frames={frames}
        rate={rate}
        frame={frame}
        notes={notes}
        inOut={inOut}
        onGo={go}
        selected={selected}
        onSelect={setChosen}
      />
    </main>
  );
};

/** Ways that lead to a place in the picture, or from one to the sheet. */
const useGoing = ({
  frame,
  go,
  stage,
  setPlace,
  setDrawn,
  setPage,
  set,
}: {
  frame: number;
  go: (frame: number) => void;
  stage: Stage;
  setPlace: (place: Place) => void;
  setDrawn: (drawn: Drawn) => void;
  setPage: (page: SheetPage) => void;
  set: ReturnType<typeof useBench>[1];
}) => {
  const goTo = useCallback(
    (p: Place): void => {
      setPlace(p);
      if (p.frame !== null || p.lookAt > 0) go(p.lookAt);
      stage.goTo(p.x, p.y);
    },
    [go, stage, setPlace],
  );
  const toEdge = useCallback(
    ({ x, y, width, height, startFrame, endFrame }: Region): void => {
      if (frame < startFrame || frame > endFrame) go(startFrame);
      const middle = y + height / 2;
      stage.goTo(x + width / 2, middle, 1);
      setDrawn({ tool: 'line', from: [x, middle], to: [x + width, middle] });
      setPage('overrule');
    },
    [frame, go, stage, setDrawn, setPage],
  );
  const onDrawn = useCallback(
    (what: Drawn): void => {
      setDrawn(what);
      setPage('overrule');
      set({ tool: 'look' });
    },
    [set, setDrawn, setPage],
  );
  return { goTo, toEdge, onDrawn };
};

/** The picture that is asked for, as it is looked at, and the plain one beside a split. */
const usePictures = (
  clip: ClipDetail & { facts: ClipFacts },
  frame: number,
  playing: boolean,
  bench: Bench,
  onPicture: Props['onPicture'],
) => {
  const { id, content, state, facts } = clip;
  const plainHeld = useHeld('q');
  const through = bench.viewing !== null && bench.through && !plainHeld;
  const name = useMemo(
    () => (playing || state === 'receiving' ? null : { clipId: id, content, frame, facts }),
    [playing, state, id, content, frame, facts],
  );
  const { channel, viewing, noiseGain } = bench;
  const look = { channel, viewing: through ? viewing : null, noiseGain };
  const shown = useShown('main', name, look);
  const plain = useShown('plain', bench.split === null ? null : name, { ...look, viewing: null });
  const pictured = shown.shown !== null || shown.failed !== null;
  useEffect(() => {
    if (!pictured) return;
    // When it has been painted, not only drawn.
    let painted: ReturnType<typeof setTimeout> | undefined;
    const next = requestAnimationFrame(() => (painted = setTimeout(() => onPicture(id))));
    return () => {
      cancelAnimationFrame(next);
      clearTimeout(painted);
    };
  }, [pictured, id, onPicture]);
  return { name, look, through, shown, plain };
};

/** The same object as long as it says the same: news about a clip must not fetch its picture again. */
const useSame = (facts: ClipFacts): ClipFacts => {
  const text = JSON.stringify(facts);
  return useMemo(() => JSON.parse(text) as ClipFacts, [text]);
};
