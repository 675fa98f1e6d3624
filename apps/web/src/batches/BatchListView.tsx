import { useState, type FormEvent } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, sayError } from '../api/client.js';
import { Unclaimed } from './Unclaimed.js';

/** The batches of the house, and a form for a new one. */
export const BatchListView = () => {
  const {
    data: batches,
    error,
    isLoading,
  } = api.useBatchesQuery(undefined, { refetchOnMountOrArgChange: true });
  const { data: specs } = api.useSpecsQuery();
  const specName = (id: string): string => specs?.find((s) => s.id === id)?.name ?? id;
  return (
    <main className="mx-auto w-full max-w-4xl flex-1 overflow-auto px-6 py-8">
      <h1 className="mb-4 text-xl font-semibold">Batches</h1>
      {isLoading && <p className="text-soft">Reading the batches …</p>}
      {error && <p role="alert">{sayError(error)}</p>}
      {batches && batches.length > 0 && (
        <table className="mb-10 w-full border-t-2 border-ink text-left">
          <thead className="heading">
            <tr className="border-b border-ink">
              <th className="py-1">Batch</th>
              <th>Production</th>
              <th>Delivery spec</th>
              <th className="text-right">Clips</th>
            </tr>
          </thead>
          <tbody>
            {batches.map((b) => (
              <tr key={b.id} className="border-b border-hair">
                <td className="py-2">
                  <Link
                    className="font-semibold underline decoration-rule underline-offset-4"
                    to={`/batches/${b.id}`}
                  >
                    {b.name}
                  </Link>
                </td>
                <td>{b.production}</td>
                <td>{specName(b.specId)}</td>
                <td className="text-right">{b.clipCount}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {batches?.length === 0 && (
        <p className="mb-8">There is no batch yet. Open one, then drop its clips into it.</p>
      )}
      <NewBatch specs={specs ?? []} />
      <Unclaimed />
    </main>
  );
};

const NewBatch = ({ specs }: { specs: readonly { id: string; name: string }[] }) => {
  const [name, setName] = useState('');
  const [production, setProduction] = useState('');
  const [specId, setSpecId] = useState('broadcast-hd');
  const [create, { error, isLoading }] = api.useCreateBatchMutation();
  const navigate = useNavigate();
  const submit = async (event: FormEvent): Promise<void> => {
    event.preventDefault();
    const made = await create({ name, production, specId });
    if (made.data) await navigate(`/batches/${made.data.id}`);
  };
  return (
    <form onSubmit={submit} className="flex flex-wrap items-end gap-3 border-t border-rule pt-4">
      <h2 className="w-full font-semibold">Open a batch</h2>
      <label className="flex flex-col gap-1 text-sm">
        Name
        <input
          className="field"
          value={name}
          onChange={(e) => setName(e.target.value)}
          required
          maxLength={200}
        />
      </label>
      <label className="flex flex-col gap-1 text-sm">
        Production
        <input
          className="field"
          value={production}
          onChange={(e) => setProduction(e.target.value)}
          maxLength={200}
        />
      </label>
      <label className="flex flex-col gap-1 text-sm">
        Delivery spec
        <select className="field" value={specId} onChange={(e) => setSpecId(e.target.value)}>
          {specs.map((s) => (
            <option key={s.id} value={s.id}>
              {s.name}
            </option>
          ))}
        </select>
      </label>
      <button className="button" disabled={isLoading}>
        Open
      </button>
      {error && (
        <p role="alert" className="w-full">
          {sayError(error)}
        </p>
      )}
    </form>
  );
};
