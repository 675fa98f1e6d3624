import { useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, sayError } from '../api/client.js';
import { specFromFile } from './file.js';

/** The delivery specs of the house, and a way to bring one in from a file. */
export const SpecListView = () => {
  const navigate = useNavigate();
  const { data: specs, error } = api.useSpecsQuery();
  const [save] = api.useSaveSpecMutation();
  const [wrong, setWrong] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const bringIn = async (file: File): Promise<void> => {
    setWrong(null);
    const spec = specFromFile(await file.text(), file.name);
    if (typeof spec === 'string') return setWrong(spec);
    const known = specs?.find((s) => s.id === spec.id);
    const done = await save({ spec, replaces: known?.version ?? null });
    if (done.error) return setWrong(sayError(done.error));
    await navigate(`/specs/${spec.id}`);
  };
  return (
    <main className="mx-auto w-full max-w-4xl flex-1 overflow-auto px-6 py-8">
      <div className="mb-4 flex items-baseline">
        <h1 className="text-xl font-semibold">Delivery specs</h1>
        <button className="button ml-auto" onClick={() => input.current?.click()}>
          Import a file
        </button>
        <input
          ref={input}
          type="file"
          accept=".json,.csv,application/json,text/csv"
          aria-label="Spec file"
          className="sr-only"
          tabIndex={-1}
          onChange={(e) => {
            const [file] = e.target.files ?? [];
            if (file) void bringIn(file);
            e.target.value = '';
          }}
        />
      </div>
      {error && <p role="alert">{sayError(error)}</p>}
      {wrong && (
        <p role="alert" className="mb-3 border border-ink bg-slip p-2 text-sm">
          {wrong}
        </p>
      )}
      <table className="w-full border-t-2 border-ink text-left">
        <thead className="heading">
          <tr className="border-b border-ink">
            <th className="py-1">Spec</th>
            <th className="text-right">Version</th>
            <th className="text-right">Limits</th>
            <th className="pl-6">For</th>
          </tr>
        </thead>
        <tbody>
          {specs?.map((s) => (
            <tr key={s.id} className="border-b border-hair align-top">
              <td className="py-2 pr-4 whitespace-nowrap">
                <Link
                  className="font-semibold underline decoration-rule underline-offset-4"
                  to={`/specs/${s.id}`}
                >
                  {s.name}
                </Link>
              </td>
              <td className="py-2 text-right">{s.version}</td>
              <td className="py-2 text-right">{s.limits.length}</td>
              <td className="py-2 pl-6 text-sm">{s.description}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </main>
  );
};
