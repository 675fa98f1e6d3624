import { useState } from 'react';
import type { DeliverySpec } from '@bevrin/contract';
import { api, sayError } from '../api/client.js';
import { whenText } from '../parts/format.js';
import { findingName } from '../parts/names.js';
import { differences } from './draft.js';

/** Every version that was saved: what it set differently, its file, and a way back to it. */
export const Versions = ({
  spec,
  onRestore,
}: {
  spec: DeliverySpec;
  onRestore: (old: DeliverySpec) => void;
}) => {
  const { data: versions, error } = api.useSpecVersionsQuery(spec.id);
  const [chosen, setChosen] = useState<number | null>(null);
  const old = versions?.find((v) => v.spec.version === chosen)?.spec;
  const said = old ? differences(old, spec, findingName) : [];
  return (
    <section aria-label="Versions" className="pt-4">
      <h2 className="heading border-b border-ink pb-1">Versions</h2>
      {error && <p role="alert">{sayError(error)}</p>}
      <ul className="text-sm">
        {versions?.map(({ spec: v, savedAt }) => (
          <li key={v.version} className="flex items-baseline gap-2 border-b border-hair py-1">
            <button
              className={`text-left hover:underline ${chosen === v.version ? 'font-bold' : ''}`}
              aria-pressed={chosen === v.version}
              onClick={() => setChosen(chosen === v.version ? null : v.version)}
              disabled={v.version === spec.version}
            >
              Version {v.version}
            </button>
            <span className="text-soft">{v.version === spec.version ? 'in force' : whenText(savedAt)}</span>
            <a
              className="ml-auto underline decoration-rule underline-offset-4"
              href={`/api/specs/${v.id}/versions/${v.version}.json`}
            >
              JSON
            </a>
            <a
              className="underline decoration-rule underline-offset-4"
              href={`/api/specs/${v.id}/versions/${v.version}.csv`}
            >
              CSV
            </a>
          </li>
        ))}
      </ul>
      {old && (
        <div className="pt-2 text-sm">
          <p className="font-semibold">
            From version {old.version} to version {spec.version}
          </p>
          <ul>
            {said.map((line) => (
              <li key={line}>{line}</li>
            ))}
            {said.length === 0 && <li className="text-soft">nothing differs</li>}
          </ul>
          <button className="button mt-2" onClick={() => onRestore(old)}>
            Take up version {old.version} again
          </button>
        </div>
      )}
    </section>
  );
};
