import { useState, type ReactNode, type RefObject } from 'react';
import { useSearchParams } from 'react-router';
import type { Clip, ClipDetail, ClipFacts } from '@bevrin/contract';
import type { Compared } from './compared.js';
import type { InOut } from './inOut.js';
import { Beside } from './picture/Beside.js';
import { PictureBar } from './picture/PictureBar.js';
import { PictureStage } from './picture/PictureStage.js';
import type { Stage } from './picture/stage.js';
import type { Drawn } from './picture/tools.js';
import { RecheckBar } from './recheck/RecheckBar.js';
import { Transport } from './Transport.js';
import { Above } from './trial/Above.js';
import { SweepStrip } from './trial/SweepStrip.js';
import { TrialBar } from './trial/TrialBar.js';
import type { Trying } from './trial/useTrying.js';
import { useBench } from './useBench.js';
import type { Pictures } from './usePictures.js';
import type { Playhead } from './usePlayhead.js';

interface Props {
  readonly clip: ClipDetail & { facts: ClipFacts };
  readonly others: readonly Clip[];
  readonly stage: Stage;
  readonly video: RefObject<HTMLVideoElement | null>;
  readonly playhead: Playhead;
  readonly pictured: Pictures;
  readonly overlay: ImageBitmap | null;
  readonly trying: Trying;
  /** What the frames as they came are set against. */
  readonly compared: Compared | null;
  readonly onDrawn: (drawn: Drawn) => void;
  readonly frames: number;
  readonly rate: number;
  readonly inOut: InOut;
  readonly onInOut: (inOut: InOut) => void;
  /** Evidence, in clip pixels. */
  readonly children: ReactNode;
}

/** The picture with the ways to look at it, beside another clip or against a trial. */
export const PictureColumn = (props: Props) => {
  const { clip, others, stage, video, playhead, pictured, overlay, trying, compared, children } = props;
  const [bench, set] = useBench();
  const [cubeProblem, setCubeProblem] = useState('');
  const [search, setSearch] = useSearchParams();
  const { open } = trying;
  const { name, look, shown, plain, comparing, split } = pictured;
  const besideId = search.get('beside') ?? '';
  const other = others.find((c) => c.id === besideId && c.id !== clip.id && c.facts);
  const choose = (run: number): void => void (open && trying.choose(open.trialId, run));
  return (
    <div className="flex min-w-0 flex-1 flex-col">
      <PictureBar
        stage={stage}
        others={others.filter((c) => c.id !== clip.id && c.facts)}
        besideId={other?.id ?? ''}
        onBeside={(id) => setSearch(id ? { beside: id } : {}, { replace: true })}
        onViewingError={setCubeProblem}
        draws={clip.versionOf === null}
      />
      {open && <TrialBar open={open} trying={trying} onChoose={choose} />}
      {compared && !open && <RecheckBar compared={compared} />}
      {cubeProblem && (
        <p role="alert" className="border-b border-ink bg-slip px-3 py-1 text-sm">
          {cubeProblem}
        </p>
      )}
      <div className={`flex min-h-0 flex-1 ${comparing === 'above' ? 'flex-col' : ''}`}>
        {comparing === 'above' && (
          <Above name={clip.name} label={pictured.otherLabel} shown={plain} stage={stage} />
        )}
        <PictureStage
          clip={clip}
          stage={stage}
          video={video}
          playhead={playhead}
          shown={shown}
          plain={plain}
          overlay={overlay}
          split={split}
          sides={compared ? [pictured.otherLabel, compared.label] : ['plain', 'as viewed']}
          onSplit={(at) => set({ split: at })}
          tool={clip.versionOf ? 'look' : bench.tool}
          onDrawn={props.onDrawn}
          grid={bench.grid && !open?.trial.runs[open.run].mesh}
        >
          {children}
        </PictureStage>
        {other && (
          <Beside
            clip={other as Clip & { facts: ClipFacts }}
            stage={stage}
            frame={playhead.frame}
            look={look}
          />
        )}
      </div>
      {open && name && (
        <SweepStrip name={name.plain} look={look} stage={stage} open={open} onChoose={choose} />
      )}
      <Transport
        playhead={playhead}
        frames={props.frames}
        rate={props.rate}
        inOut={props.inOut}
        onInOut={props.onInOut}
      />
    </div>
  );
};
