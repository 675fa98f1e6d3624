import { useEffect, useState } from 'react';
import { TrialMesh } from '@bevrin/contract';
import { Outline } from '../picture/Outline.js';
import type { OpenTrial } from './useTrying.js';

/** How a run moved the picture, once it is there; `null` where it moved nothing. */
const useMesh = ({ trial, trialId, run }: OpenTrial): TrialMesh | null => {
  const [state, setState] = useState<{ key: string; mesh: TrialMesh | null }>({ key: '', mesh: null });
  const key = `${trialId}/runs/${run}`;
  const has = trial.runs[run].mesh !== null;
  useEffect(() => {
    if (!has) return;
    let gone = false;
    void fetch(`/api/trials/${key}/mesh.json`)
      .then(async (answer) => (answer.ok ? TrialMesh.parse(await answer.json()) : null))
      .then((mesh) => !gone && setState({ key, mesh }))
      .catch(() => undefined);
    return () => void (gone = true);
  }, [key, has]);
  return state.key === key ? state.mesh : null;
};

interface Props {
  readonly open: OpenTrial;
  readonly frame: number;
  readonly treated: boolean;
  readonly width: number;
  readonly height: number;
}

/**
 * Over the treated frame the net of straight lines as the treatment bent it; over the frame as it came the part of it that
 * is left.
 */
export const Net = ({ open, frame, treated, width, height }: Props) => {
  const mesh = useMesh(open);
  const nodes = mesh?.frames[frame - open.trial.range.startFrame];
  if (!mesh || !nodes) return null;
  const { columns, rows } = mesh;
  const way = treated ? -1 : 1;
  const at = (c: number, r: number): string => {
    const i = 2 * (r * columns + c);
    const x = ((width - 1) * c) / (columns - 1) + way * nodes[i];
    const y = ((height - 1) * r) / (rows - 1) + way * nodes[i + 1];
    return `${x.toFixed(1)} ${y.toFixed(1)}`;
  };
  const across = (r: number): string => `M${range(columns, (c) => at(c, r)).join('L')}`;
  const down = (c: number): string => `M${range(rows, (r) => at(c, r)).join('L')}`;
  const path = treated
    ? [...range(rows, across), ...range(columns, down)].join('')
    : [across(0), across(rows - 1), down(0), down(columns - 1)].join('');
  return <Outline>{(stroke) => <path d={path} {...stroke} fill="none" data-testid="net" />}</Outline>;
};

const range = <T,>(count: number, of: (i: number) => T): T[] =>
  Array.from({ length: count }, (_, i) => of(i));
