import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { DEFECTS, type ClipDetail, type ClipFacts, type Defect } from '@bevrin/contract';
import { worstMomentOf } from '@bevrin/core/scoring';
import { SHOWN_CHANNELS, type ShownChannel } from '@bevrin/core/inspect';
import { NOISE_GAIN, SPEEDS } from './bench.js';
import { useCommands, writing, type Command } from '../parts/commands.js';
import { inAt, NO_IN_OUT, outAt, type InOut } from './inOut.js';
import { CLOSE, type Stage } from './picture/stage.js';
import { TOOLS, type Drawn, type Tool } from './picture/tools.js';
import { pagesOf, SHEET_PAGES, type SheetPage } from './Sheet.js';
import { versionsAddress } from './versionAddress.js';
import { useBench } from './useBench.js';
import type { Playhead } from './usePlayhead.js';

interface Reach {
  readonly clip: ClipDetail & { facts: ClipFacts };
  readonly playhead: Playhead;
  readonly frames: number;
  readonly rate: number;
  readonly stage: Stage;
  readonly selected: Defect;
  readonly onSelect: (defect: Defect) => void;
  readonly inOut: InOut;
  readonly onInOut: (inOut: InOut) => void;
  readonly onPage: (page: SheetPage) => void;
  readonly drawn: Drawn | null;
  readonly onDrawn: (drawn: Drawn | null) => void;
}

const CHANNEL_KEYS: Partial<Record<ShownChannel, string>> = {
  luma: 'y',
  cb: 'u',
  cr: 'v',
  red: 'r',
  green: 'g',
  blue: 'b',
};
const TOOL_KEYS: Partial<Record<Tool, string>> = {
  patch: 'p',
  mask: 'shift+m',
  polygon: 'shift+p',
  interest: 'shift+i',
  line: 'e',
};
const CLOSER = 1.5;
/** A place smaller than this share of the picture is gone close to. */
const SMALL_SHARE = 0.005;

/** Everything that can be done on the bench, by keys and from the list of commands. */
export const useClipCommands = (reach: Reach): void => {
  useFrameCommands(reach);
  usePictureCommands(reach);
  useFindingCommands(reach);
};

const useFrameCommands = ({ clip, playhead, frames, rate, inOut, onInOut }: Reach): void => {
  const [{ speed, loop }, set] = useBench();
  const { frame, go, toggle } = playhead;
  const shots = clip.measurement?.shots.map((s) => s.startFrame) ?? [];
  const faster = (by: number): void => {
    const at = SPEEDS.findIndex((s) => s === speed) + by;
    if (SPEEDS[at]) set({ speed: SPEEDS[at] });
  };
  useCommands('Frames', [
    { name: 'Play or stop', keys: 'space', run: toggle },
    { name: 'One frame on', keys: 'right', run: () => go(frame + 1) },
    { name: 'One frame back', keys: 'left', run: () => go(frame - 1) },
    { name: 'One second on', keys: 'shift+right', run: () => go(frame + rate) },
    { name: 'One second back', keys: 'shift+left', run: () => go(frame - rate) },
    { name: 'First frame', keys: 'home', run: () => go(0) },
    { name: 'Last frame', keys: 'end', run: () => go(frames - 1) },
    { name: 'Next shot', keys: 'pagedown', run: () => go(shots.find((f) => f > frame) ?? frames - 1) },
    { name: 'Previous shot', keys: 'pageup', run: () => go(shots.findLast((f) => f < frame) ?? 0) },
    {
      name: 'In point here',
      keys: 'i',
      run: () => onInOut(inAt(inOut, frame)),
    },
    {
      name: 'Out point here',
      keys: 'o',
      run: () => onInOut(outAt(inOut, frame)),
    },
    { name: 'Clear in and out', keys: 'shift+o', run: () => onInOut(NO_IN_OUT) },
    { name: 'Loop', keys: 'l', run: () => set({ loop: !loop }) },
    { name: 'Slower', keys: 'bracketleft', run: () => faster(-1) },
    { name: 'Faster', keys: 'bracketright', run: () => faster(1) },
  ]);
};

const usePictureCommands = ({ stage, drawn, onDrawn, clip }: Reach): void => {
  const [bench, set] = useBench();
  const navigate = useNavigate();
  const channels: Command[] = SHOWN_CHANNELS.map((channel) => ({
    name: channel === 'colour' ? 'All colours' : `Channel: ${channel}`,
    keys: channel === 'colour' ? 'c' : CHANNEL_KEYS[channel],
    run: () => set({ channel: bench.channel === channel ? 'colour' : channel, noiseGain: null }),
  }));
  useCommands('Picture', [
    { name: 'Whole picture', keys: '0', run: () => stage.whole() },
    { name: 'Actual size', keys: '1', run: () => stage.scaleTo(1) },
    { name: `${CLOSE} times`, keys: String(CLOSE), run: () => stage.scaleTo(CLOSE) },
    { name: 'Closer', keys: 'equal', run: () => stage.step(CLOSER) },
    { name: 'Farther', keys: 'minus', run: () => stage.step(1 / CLOSER) },
    ...channels,
    {
      name: 'The noise alone, amplified',
      keys: 'x',
      run: () => set({ noiseGain: bench.noiseGain === null ? NOISE_GAIN : null }),
    },
    { name: 'Viewing transform on or off', keys: 't', run: () => set({ through: !bench.through }) },
    { name: 'Plain picture as long as it is held', keys: 'q', run: () => undefined },
    {
      name: 'Split: plain and as viewed',
      keys: 'k',
      run: () => set({ split: bench.split === null ? 0.5 : null }),
    },
    { name: 'Marks on the picture', keys: 'm', run: () => set({ marks: !bench.marks }) },
    { name: 'Grid of straight lines', keys: 'shift+g', run: () => set({ grid: !bench.grid }) },
    { name: 'Look left', keys: 'alt+left', run: () => stage.pan(80, 0) },
    { name: 'Look right', keys: 'alt+right', run: () => stage.pan(-80, 0) },
    { name: 'Look up', keys: 'alt+up', run: () => stage.pan(0, 80) },
    { name: 'Look down', keys: 'alt+down', run: () => stage.pan(0, -80) },
  ]);
  const { versionOf } = clip;
  const tools = versionOf ? [] : (Object.keys(TOOL_KEYS) as Tool[]);
  useCommands('Drawing', [
    ...tools.map((tool) => ({
      name: TOOLS[tool],
      keys: TOOL_KEYS[tool],
      run: () => set({ tool: bench.tool === tool ? 'look' : tool }),
    })),
    {
      name: versionOf
        ? 'Put the pencil away, then back to the clip'
        : 'Put the pencil away, drop what was drawn, then back to the batch',
      keys: 'esc',
      run: () => {
        if (bench.tool !== 'look') set({ tool: 'look' });
        else if (drawn) onDrawn(null);
        else if (versionOf) void navigate(versionsAddress(clip));
        else void navigate(`/batches/${clip.batchId}`);
      },
    },
  ]);
};

const useFindingCommands = ({ clip, playhead, stage, selected, onSelect, onPage }: Reach): void => {
  const navigate = useNavigate();
  const step = (by: number): void =>
    onSelect(DEFECTS[(DEFECTS.indexOf(selected) + by + DEFECTS.length) % DEFECTS.length]);
  const toWorst = (defect: Defect): void => {
    const worst = clip.measurement && worstMomentOf(clip.measurement, defect);
    if (!worst) return;
    playhead.go(worst.frame);
    const { region } = worst;
    const { width, height } = clip.facts;
    if (region && region.width * region.height < SMALL_SHARE * width * height)
      stage.goTo(region.x + region.width / 2, region.y + region.height / 2);
    else stage.whole();
  };
  const bad = [
    ...new Set(
      clip.judgement?.findings.flatMap((f) =>
        f.defect !== 'conform' && f.verdict !== 'pass' && f.value !== null ? [f.defect] : [],
      ),
    ),
  ];
  const toFinding = (by: number): void => {
    const next = bad[(bad.indexOf(selected) + by + bad.length) % bad.length];
    if (!next) return;
    onSelect(next);
    toWorst(next);
  };
  useCommands('Findings', [
    { name: 'Next defect', keys: 'down', run: () => step(1) },
    { name: 'Previous defect', keys: 'up', run: () => step(-1) },
    { name: 'Worst moment of this defect', keys: 'w', run: () => toWorst(selected) },
    { name: 'Next finding, at its worst', keys: 'n', run: () => toFinding(1) },
    { name: 'Previous finding, at its worst', keys: 'shift+n', run: () => toFinding(-1) },
  ]);
  useCommands('Sheets', [
    ...pagesOf(clip).map((page, i) => ({
      name: `Sheet: ${SHEET_PAGES[page]}`,
      keys: `alt+${i + 1}`,
      run: () => onPage(page),
    })),
    ...(clip.versionOf
      ? []
      : [
          {
            name: 'Decide on the plan',
            keys: 'd',
            run: () => void navigate(`/batches/${clip.batchId}/clips/${clip.id}/plan`),
          },
        ]),
  ]);
};

/** Whether a key is held down. */
export const useHeld = (key: string): boolean => {
  const [held, setHeld] = useState(false);
  useEffect(() => {
    const down = (e: KeyboardEvent): void => {
      if (e.key === key && !e.ctrlKey && !e.metaKey && !e.altKey && !writing()) setHeld(true);
    };
    const up = (e: KeyboardEvent): void => {
      if (e.key === key) setHeld(false);
    };
    const away = (): void => setHeld(false);
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    window.addEventListener('blur', away);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', away);
    };
  }, [key]);
  return held;
};
