import { useCallback, useEffect, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import {
  DEFECTS,
  type BesideFinding,
  type Clip,
  type ClipDetail,
  type ClipFacts,
  type ClipPlan,
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
import { CLOSE, Stage } from './picture/stage.js';
import type { Drawn } from './picture/tools.js';
import { useExpect } from './picture/useExpect.js';
import { Sheet, type SheetPage } from './Sheet.js';
import { Net } from './trial/Net.js';
import { useTrialLoop } from './trial/useTrialLoop.js';
import { triedOf, type Compared } from './compared.js';
import { useRechecking } from './recheck/useRechecking.js';
import { useTrying } from './trial/useTrying.js';
import { TimePanel } from './time/TimePanel.js';
import { NO_IN_OUT, type InOut } from './inOut.js';
import { PictureColumn } from './PictureColumn.js';
import { useBench } from './useBench.js';
import { usePictures } from './usePictures.js';
import { useClipCommands } from './useClipCommands.js';
import { usePlayhead, type Playhead } from './usePlayhead.js';

interface Props {
  readonly clip: ClipDetail & { facts: ClipFacts };
  /** Whether the readings are there, too. */
  readonly complete: boolean;
  readonly others: readonly Clip[];
  /** How it differs from the others of its roll. */
  readonly beside: readonly BesideFinding[];
  /** Told when the first exact frame of a clip is on the screen, or cannot be. */
  readonly onPicture: (clipId: string) => void;
}

/** The defect that a technician wants to see first. */
const worstDefect = (clip: Clip): Defect =>
  clip.summary?.findings.map((f) => f.defect).find((d) => d !== 'conform') ?? DEFECTS[0];

const NO_NOTES: never[] = [];

/** The bench: the picture and its time, with the sheet of what was found beside it. */
export const OpenClip = ({ clip: told, complete, others, beside, onPicture }: Props) => {
  const facts = useSame(told.facts);
  const clip = useMemo(() => ({ ...told, facts }), [told, facts]);
  const { measurement } = clip;
  const rate = frameRateOf(facts);
  const frames = measurement?.clip.frames ?? facts.frames;
  const [bench, set] = useBench();
  const [inOut, setInOut] = useState<InOut>(NO_IN_OUT);
  const [parked, video] = usePlayhead(frames, rate, {
    speed: bench.speed,
    from: inOut.from ?? 0,
    to: inOut.to ?? frames - 1,
    loop: bench.loop,
  });
  const { frame, playing } = parked;
  useExpect(clip.id, frame, playing, frames);
  const [chosen, setChosen] = useState<Defect | null>(null);
  const [page, setPage] = useSheetPage();
  const [drawn, setDrawn] = useState<Drawn | null>(null);
  const [place, setPlace] = useState<Place | null>(null);
  const stage = useMemo(() => new Stage({ width: facts.width, height: facts.height }), [facts]);
  const selected = chosen ?? worstDefect(clip);
  const overruling = useOverrule(clip);
  const plan = usePlan(clip);
  const trying = useTrying(clip, plan, page === 'trials');
  const rechecking = useRechecking(clip, page === 'recheck');
  const { open } = trying;
  const compared = useMemo(() => (open ? triedOf(open) : rechecking.compared), [open, rechecking.compared]);
  const pictured = usePictures({
    clip,
    frame,
    playing,
    bench,
    open: compared,
    against: trying.against,
    onPicture,
  });
  const { name, shown, plain, comparing } = pictured;
  const sides = comparing === null ? [shown] : [shown, plain];
  const playhead = useTrialLoop(parked, compared, sides, rate * bench.speed);
  const { go } = playhead;
  useTrialFrame(compared, parked);
  const marked = bench.marks && !playing && !compared;
  // The picture first: what is worked out of it waits until it is there.
  const there = shown.current && shown.failed === null ? (name?.plain ?? null) : null;
  const { asks } = evidenceOf(selected);
  const tiles = useTiles(marked && asks === 'tiles' ? there : null);
  const contours = useContours(marked && asks === 'contours' ? there : null, measurement);
  const { goTo, toEdge, lookAt, onDrawn } = useGoing({ frame, go, stage, setPlace, setDrawn, setPage, set });
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
      {open && bench.grid && (
        <Net open={open} frame={frame} treated={pictured.treated} width={facts.width} height={facts.height} />
      )}
      {!playing && <Decided overrides={clip.overrides} drawn={drawn} frame={frame} />}
    </>
  );
  return (
    <main className="flex min-h-0 flex-1 flex-col">
      <Hatches />
      <div className="flex min-h-0 flex-1">
        <PictureColumn
          clip={clip}
          others={others}
          stage={stage}
          video={video}
          playhead={playhead}
          pictured={pictured}
          overlay={contours}
          trying={trying}
          compared={compared}
          onDrawn={onDrawn}
          frames={frames}
          rate={rate}
          inOut={inOut}
          onInOut={setInOut}
        >
          {overPicture}
        </PictureColumn>
        <Sheet
          clip={clip}
          beside={beside}
          complete={complete}
          plan={plan}
          page={page}
          onPage={setPage}
          selected={selected}
          onSelect={setChosen}
          frame={frame}
          inOut={inOut}
          drawn={drawn}
          onDrop={() => setDrawn(null)}
          overruling={overruling}
          trying={trying}
          rechecking={rechecking}
          onLookAt={lookAt}
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
        notes={plan?.frameNotes ?? NO_NOTES}
        inOut={inOut}
        returned={rechecking.lane}
        onGo={go}
        selected={selected}
        onSelect={setChosen}
      />
    </main>
  );
};

/** The plan of a clip that is judged; a version that is opened by itself has none. */
const usePlan = ({ id, judgement, versionOf }: ClipDetail): ClipPlan | null =>
  api.usePlanQuery(id, { skip: !judgement || versionOf !== null }).data ?? null;

/** Which sheet is open; whoever comes back from a version goes on where the versions are. */
const useSheetPage = () => {
  const [search] = useSearchParams();
  return useState<SheetPage>(search.get('sheet') === 'recheck' ? 'recheck' : 'evidence');
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
  const lookAt = useCallback(
    (at: number, x: number, y: number): void => {
      go(at);
      stage.goTo(x, y, CLOSE / 2);
    },
    [go, stage],
  );
  return { goTo, toEdge, lookAt, onDrawn };
};

/** A trial is looked at where it was made: the playhead goes to its first frame when it stands elsewhere. */
const useTrialFrame = (open: Compared | null, { frame, go }: Playhead): void => {
  const id = open?.trialId;
  useEffect(() => {
    const range = open?.range;
    if (range && (frame < range.startFrame || frame > range.endFrame)) go(range.startFrame);
    // Only when another trial is opened: one may look elsewhere all the same.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [id]);
};

/** The same object as long as it says the same: news about a clip must not fetch its picture again. */
const useSame = (facts: ClipFacts): ClipFacts => {
  const text = JSON.stringify(facts);
  return useMemo(() => JSON.parse(text) as ClipFacts, [text]);
};
