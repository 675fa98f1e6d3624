import { Tabs } from 'radix-ui';
import { useState, type KeyboardEvent } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link, useNavigate, useParams } from 'react-router';
import { DEFECTS, type ClipDetail, type ClipFacts, type Defect } from '@bevrin/contract';
import { api, sayError } from '../api/client.js';
import { frameRateOf } from '../parts/format.js';
import { Hatches } from '../parts/severity.js';
import { Verdict } from '../parts/Verdict.js';
import { ClipWaiting } from './ClipWaiting.js';
import { Evidence } from './Evidence.js';
import { FactsSheet } from './FactsSheet.js';
import { FindingsTable } from './FindingsTable.js';
import { Lanes } from './Lanes.js';
import { Picture, ZOOMS, type Zoom } from './Picture.js';
import { PlanList } from './PlanList.js';
import { Transport } from './Transport.js';
import { usePlayhead } from './usePlayhead.js';

/** One clip: its picture, its time, what was found and what to do. */
export const ClipView = () => {
  const { clipId = '', batchId = '' } = useParams();
  const { data: clip, error } = api.useClipQuery(clipId);
  const navigate = useNavigate();
  // An open dialog takes the key for itself.
  useHotkeys('esc', () => void navigate(`/batches/${batchId}`), {
    ignoreEventWhen: (e) => e.defaultPrevented,
  });
  if (error) return <Full role="alert">{sayError(error)}</Full>;
  if (!clip) return <Full>Reading the clip …</Full>;
  if (!clip.facts) return <ClipWaiting clip={clip} />;
  return <OpenClip key={clip.id} clip={clip as ClipDetail & { facts: ClipFacts }} />;
};

const Full = ({ children, role }: { children: React.ReactNode; role?: string }) => (
  <main className="grid flex-1 place-items-center p-10 text-soft">
    <p role={role}>{children}</p>
  </main>
);

/** Frames are stepped through wherever the focus is, but in a text. */
const KEYS = { preventDefault: true, enableOnFormTags: ['input'] as const };

/** The defect that a technician wants to see first. */
const worstDefect = (clip: ClipDetail): Defect =>
  clip.judgement?.findings.map((f) => f.defect).find((d) => d !== 'conform') ?? 'noise';

const OpenClip = ({ clip }: { clip: ClipDetail & { facts: ClipFacts } }) => {
  const rate = frameRateOf(clip.facts);
  const frames = clip.measurement?.clip.frames ?? clip.facts.frames;
  const [playhead, video] = usePlayhead(frames, rate);
  const [chosen, setChosen] = useState<Defect | null>(null);
  const [zoom, setZoom] = useState<Zoom>('whole');
  const [marks, setMarks] = useState(true);
  const selected = chosen ?? worstDefect(clip);
  const reading = clip.measurement?.readings[selected];
  const { frame, go, toggle } = playhead;
  const step = (by: number): void =>
    setChosen(DEFECTS[(DEFECTS.indexOf(selected) + by + DEFECTS.length) % DEFECTS.length]);
  useHotkeys('space', toggle, KEYS);
  useHotkeys('left', () => go(frame - 1), KEYS);
  useHotkeys('right', () => go(frame + 1), KEYS);
  useHotkeys('shift+left', () => go(frame - rate), KEYS);
  useHotkeys('shift+right', () => go(frame + rate), KEYS);
  useHotkeys('home', () => go(0), KEYS);
  useHotkeys('end', () => go(frames - 1), KEYS);
  useHotkeys('up', () => step(-1), KEYS);
  useHotkeys('down', () => step(1), KEYS);
  useHotkeys('z', () => setZoom((z) => ZOOMS[(ZOOMS.indexOf(z) + 1) % ZOOMS.length]), KEYS);
  useHotkeys('m', () => setMarks((m) => !m), KEYS);
  return (
    <main className="flex min-h-0 flex-1 flex-col">
      <Hatches />
      <div className="flex min-h-0 flex-1">
        <div className="flex min-w-0 flex-1 flex-col">
          <Picture
            clip={clip}
            video={video}
            playhead={playhead}
            zoom={zoom}
            regions={marks ? (reading?.regions ?? []) : []}
          />
          <Transport
            playhead={playhead}
            frames={frames}
            rate={rate}
            zoom={zoom}
            onZoom={setZoom}
            marks={marks}
            onMarks={setMarks}
          />
        </div>
        <Sheet clip={clip} selected={selected} onSelect={setChosen} frame={frame} />
      </div>
      <Lanes
        measurement={clip.measurement}
        findings={clip.judgement?.findings ?? []}
        frames={frames}
        rate={rate}
        frame={frame}
        onGo={go}
        selected={selected}
        onSelect={setChosen}
      />
    </main>
  );
};

/** Arrows step through frames here too; the sheets are reached by Tab. */
const leaveToFrames = (e: KeyboardEvent): void => {
  if (/^(Arrow|Home|End)/.test(e.key)) e.preventDefault();
};

const PAGES = [
  ['evidence', 'Evidence'],
  ['plan', 'Plan'],
  ['facts', 'Facts and note'],
] as const;

interface SheetProps {
  readonly clip: ClipDetail & { facts: ClipFacts };
  readonly selected: Defect;
  readonly onSelect: (defect: Defect) => void;
  readonly frame: number;
}

/** The written side: the verdict, the findings, and behind them evidence, plan and facts. */
const Sheet = ({ clip, selected, onSelect, frame }: SheetProps) => {
  const { measurement, judgement } = clip;
  return (
    <aside className="flex w-[27rem] shrink-0 flex-col border-l border-ink bg-sheet">
      {measurement && judgement ? (
        <>
          <div className="border-b border-ink px-4 pt-2 pb-3">
            <p className="flex items-baseline gap-3 pb-1">
              <Verdict verdict={judgement.verdict} large />
              <span className="text-sm text-soft">
                {judgement.spec.name}, version {judgement.spec.version}
              </span>
            </p>
            <FindingsTable
              findings={judgement.findings}
              measurement={measurement}
              selected={selected}
              onSelect={onSelect}
            />
          </div>
          <Tabs.Root defaultValue="evidence" className="flex min-h-0 flex-1 flex-col">
            <Tabs.List aria-label="Sheets" className="flex gap-5 border-b border-rule px-4 text-sm">
              {PAGES.map(([value, name]) => (
                <Tabs.Trigger
                  key={value}
                  value={value}
                  onKeyDown={leaveToFrames}
                  className="border-b-2 border-transparent py-1 text-soft data-[state=active]:border-ink data-[state=active]:font-semibold data-[state=active]:text-ink"
                >
                  {name}
                  {value === 'plan' && judgement.plan.steps.length > 0 && ` (${judgement.plan.steps.length})`}
                </Tabs.Trigger>
              ))}
            </Tabs.List>
            <div className="min-h-0 flex-1 overflow-auto px-4 pb-4">
              <Tabs.Content value="evidence">
                <Evidence
                  defect={selected}
                  measurement={measurement}
                  findings={judgement.findings.filter((f) => f.defect === selected)}
                  frame={frame}
                />
              </Tabs.Content>
              <Tabs.Content value="plan">
                <Link
                  to={`/batches/${clip.batchId}/clips/${clip.id}/plan`}
                  className="button my-2 inline-block"
                >
                  Decide on the plan
                </Link>
                <PlanList plan={judgement.plan} onSelect={onSelect} />
              </Tabs.Content>
              <Tabs.Content value="facts">
                <FactsSheet clip={clip} />
              </Tabs.Content>
            </div>
          </Tabs.Root>
        </>
      ) : (
        <>
          <ClipWaiting clip={clip} />
          <div className="flex-1 overflow-auto border-t border-rule px-4 pb-4">
            <FactsSheet clip={clip} />
          </div>
        </>
      )}
    </aside>
  );
};
