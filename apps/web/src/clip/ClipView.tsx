import { useMemo, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import type { Clip, ClipDetail, ClipFacts } from '@bevrin/contract';
import { api, sayError } from '../api/client.js';
import { recheckApi } from '../api/rechecks.js';
import { useCommands } from '../parts/commands.js';
import { useBeside } from '../batch/useBeside.js';
import { badness } from '../parts/severity.js';
import { ClipWaiting } from './ClipWaiting.js';
import { versionsAddress } from './versionAddress.js';
import { OpenClip } from './OpenClip.js';

const NOTHING: never[] = [];

/** One clip: its picture, its time, what was found and what to do. */
export const ClipView = () => {
  const { clipId = '', batchId = '' } = useParams();
  const { data: detail, error } = api.useClipQuery(clipId);
  const { data: batch } = api.useBatchQuery(batchId);
  const clips = useMemo(
    () => [...(batch?.clips ?? [])].sort((a, b) => badness(b) - badness(a)),
    [batch?.clips],
  );
  const [pictured, setPictured] = useState('');
  const navigate = useNavigate();
  const beside = useBeside(batch?.clips);
  const step = (by: number): void => {
    const at = clips.findIndex((c) => c.id === clipId);
    const next = clips[at + by];
    if (at >= 0 && next) void navigate(`/batches/${batchId}/clips/${next.id}`);
  };
  // The list knows enough to show the picture, which comes first; the readings are set beside it once it is there.
  const listed = clips.find((c) => c.id === clipId);
  const waits = listed?.state === 'measured' && pictured !== clipId;
  const clip = waits ? withoutReadings(listed) : (detail ?? (listed && withoutReadings(listed)));
  useCommands('Clips', [
    { name: 'Next clip, less bad', keys: 'shift+down', run: () => step(1) },
    { name: 'Previous clip, worse', keys: 'shift+up', run: () => step(-1) },
    {
      name: 'Back to the batch',
      // On the bench Esc puts the pencil away first.
      keys: clip?.facts ? 'shift+esc' : 'esc',
      run: () => void navigate(`/batches/${batchId}`),
    },
  ]);
  if (error) return <Full role="alert">{sayError(error)}</Full>;
  if (!clip) return <Full>Reading the clip …</Full>;
  if (!clip.facts) return <ClipWaiting clip={clip} />;
  return (
    <OpenClip
      key={clip.id}
      clip={clip as ClipDetail & { facts: ClipFacts }}
      complete={!waits && detail !== undefined}
      onPicture={setPictured}
      others={clips}
      beside={beside.get(clipId) ?? NOTHING}
    />
  );
};

/** One file of a clip by itself, such as a repaired one that came back. */
export const VersionView = () => {
  const { versionId = '' } = useParams();
  const { data: clip, error } = recheckApi.useVersionQuery(versionId);
  const navigate = useNavigate();
  useCommands('Clips', [
    {
      name: 'Back to the clip, where its versions are',
      keys: 'shift+esc',
      run: () => void (clip && navigate(versionsAddress(clip))),
    },
  ]);
  if (error) return <Full role="alert">{sayError(error)}</Full>;
  if (!clip?.facts) return <Full>Reading the file …</Full>;
  return (
    <OpenClip
      key={clip.id}
      clip={clip as ClipDetail & { facts: ClipFacts }}
      complete
      onPicture={NOBODY_WAITS}
      others={NOTHING}
      beside={NOTHING}
    />
  );
};

const NOBODY_WAITS = (): void => undefined;

const withoutReadings = (clip: Clip): ClipDetail => ({
  ...clip,
  judgement: null,
  measurement: null,
  machine: null,
  overrides: {},
  truth: [],
  versions: [],
  measured: null,
  versionOf: null,
});

const Full = ({ children, role }: { children: React.ReactNode; role?: string }) => (
  <main className="grid flex-1 place-items-center p-10 text-soft">
    <p role={role}>{children}</p>
  </main>
);
