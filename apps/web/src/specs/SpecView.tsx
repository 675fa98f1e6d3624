import { useEffect, useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import type { DeliverySpec } from '@bevrin/contract';
import { api, sayError } from '../api/client.js';
import { Hatches } from '../parts/severity.js';
import { Facts } from './Facts.js';
import { HarmLimits } from './HarmLimits.js';
import { NeighbourLimits } from './NeighbourLimits.js';
import { LimitRows } from './LimitRows.js';
import { Versions } from './Versions.js';
import { WhatIf } from './WhatIf.js';

/** A delivery spec over the readings of a batch: moving a limit shows at once what it does. */
export const SpecView = () => {
  const { specId = '' } = useParams();
  const { data: specs, error } = api.useSpecsQuery();
  const saved = specs?.find((s) => s.id === specId);
  if (error) return <p role="alert">{sayError(error)}</p>;
  if (!specs) return <p className="p-5 text-soft">Reading the specs …</p>;
  if (!saved) return <p className="p-5">There is no such delivery spec. It may have another id.</p>;
  return <Editor key={`${saved.id} ${saved.version}`} saved={saved} />;
};

const Editor = ({ saved }: { saved: DeliverySpec }) => {
  const navigate = useNavigate();
  const [draft, setDraft] = useState(saved);
  const [search, setSearch] = useSearchParams();
  const { data: batches } = api.useBatchesQuery();
  const batchId = search.get('batch') ?? batches?.find((b) => b.clipCount > 0)?.id ?? '';
  const { data: clips = [], isFetching } = api.useSeenQuery(
    { batchId, specId: saved.id },
    { skip: !batchId },
  );
  const [save, { error, isLoading }] = api.useSaveSpecMutation();
  const changed = JSON.stringify(draft) !== JSON.stringify(saved);
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent): void => {
      if (changed) event.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    return () => window.removeEventListener('beforeunload', warn);
  }, [changed]);
  const keep = async (spec: DeliverySpec): Promise<void> => {
    await save({ spec, replaces: saved.version });
  };
  const duplicate = async (): Promise<void> => {
    const id = `${saved.id}-${Date.now().toString(36)}`;
    const copy = { ...draft, id, name: `${draft.name}, copy` };
    if ((await save({ spec: copy, replaces: null })).data) await navigate(`/specs/${id}`);
  };
  return (
    <main className="flex min-h-0 flex-1 flex-col bg-sheet">
      <Hatches />
      <section className="flex flex-wrap items-end gap-x-4 gap-y-2 border-b border-ink px-5 py-2 text-sm">
        <label>
          <span className="heading block">Delivery spec</span>
          <input
            className="w-56 field text-base font-semibold"
            value={draft.name}
            onChange={(e) => setDraft({ ...draft, name: e.target.value })}
          />
        </label>
        <span className="pb-1">version {saved.version}</span>
        <label>
          <span className="heading block">Readings of</span>
          <select
            className="max-w-64 field"
            value={batchId}
            onChange={(e) => setSearch({ batch: e.target.value }, { replace: true })}
          >
            {batches?.length === 0 && <option value="">no batch yet</option>}
            {batches?.map((b) => (
              <option key={b.id} value={b.id}>
                {b.name}
              </option>
            ))}
          </select>
        </label>
        <span className="pb-1 text-soft">
          {isFetching ? 'reading …' : `${clips.length} ${clips.length === 1 ? 'clip' : 'clips'} measured`}
        </span>
        <span className="ml-auto flex gap-2">
          <button
            className="button"
            disabled={!changed || isLoading || draft.name.trim() === ''}
            onClick={() => void keep(draft)}
          >
            Save as version {saved.version + 1}
          </button>
          <button className="button" disabled={!changed} onClick={() => setDraft(saved)}>
            Discard
          </button>
          <button className="button" onClick={() => void duplicate()}>
            Duplicate
          </button>
        </span>
        {error && (
          <p role="alert" className="w-full">
            {sayError(error)}
          </p>
        )}
      </section>
      <div className="grid min-h-0 flex-1 grid-cols-[1fr_17rem] overflow-hidden">
        <div className="overflow-auto px-5 py-2">
          <LimitRows draft={draft} saved={saved} clips={clips} onChange={setDraft} />
          <Facts draft={draft} onChange={setDraft} />
          <HarmLimits draft={draft} onChange={setDraft} />
          <NeighbourLimits draft={draft} onChange={setDraft} />
          <label className="block max-w-[56rem] pb-4 text-sm">
            <span className="block text-xs text-soft">what it is for</span>
            <input
              className="w-full field"
              value={draft.description}
              onChange={(e) => setDraft({ ...draft, description: e.target.value })}
            />
          </label>
        </div>
        <aside className="overflow-auto border-l border-ink px-4 py-2">
          <WhatIf clips={clips} saved={saved} draft={draft} batchId={batchId} />
          <Versions spec={saved} onRestore={(old) => void keep({ ...old, version: saved.version })} />
        </aside>
      </div>
    </main>
  );
};
