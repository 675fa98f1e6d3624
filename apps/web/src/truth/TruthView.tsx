import { Link, useNavigate, useParams } from 'react-router';
import type { TruthRow } from '@bevrin/contract';
import { useCommands } from '../parts/commands.js';
import { api, sayError } from '../api/client.js';
import { amount } from '../parts/format.js';

/** For drawn clips: what was put in, what was read, and how far apart the two lie. */
export const TruthView = () => {
  const { batchId = '' } = useParams();
  const navigate = useNavigate();
  const { data: detail } = api.useBatchQuery(batchId);
  const { data: rows, error } = api.useTruthQuery(batchId);
  useCommands('Truth', [
    { name: 'Back to the batch', keys: 'esc', run: () => void navigate(`/batches/${batchId}`) },
  ]);
  return (
    <main className="min-h-0 flex-1 overflow-auto bg-sheet px-5 py-3">
      <h1 className="text-lg font-semibold">Truth against reading</h1>
      <p className="pb-3 text-sm text-soft">
        {detail && (
          <Link className="hover:underline" to={`/batches/${batchId}`}>
            {detail.batch.name}
          </Link>
        )}
        . These clips were drawn, so that what is in them is known to the figure.
      </p>
      {error && <p role="alert">{sayError(error)}</p>}
      {!rows && !error && <p className="text-soft">Reading …</p>}
      {rows?.length === 0 && <p className="text-soft">No clip of this batch was drawn.</p>}
      {rows && rows.length > 0 && <TruthTable rows={rows} batchId={batchId} />}
    </main>
  );
};

const TruthTable = ({ rows, batchId }: { rows: readonly TruthRow[]; batchId: string }) => (
  <table className="w-full max-w-[68rem] text-sm">
    <thead className="heading">
      <tr className="border-b border-ink">
        <th className="py-1 text-left">Clip</th>
        <th className="text-left">Put in</th>
        <th className="w-28 text-right">Truth</th>
        <th className="w-28 text-right">Read</th>
        <th className="w-28 text-right">Off by</th>
      </tr>
    </thead>
    <tbody>
      {rows.map((row, i) => (
        <tr key={`${row.clipId} ${row.what}`} className="border-b border-hair">
          <td className="py-0.5">
            {rows[i - 1]?.clipId !== row.clipId && (
              <Link className="font-semibold hover:underline" to={`/batches/${batchId}/clips/${row.clipId}`}>
                {row.clip}
              </Link>
            )}
          </td>
          <td>{row.what}</td>
          <td className="text-right whitespace-nowrap">{amount(row.putIn, row.unit)}</td>
          <td className="text-right whitespace-nowrap">
            {row.read === null ? 'not measured' : amount(row.read, row.unit)}
          </td>
          <td className="text-right whitespace-nowrap">{offBy(row)}</td>
        </tr>
      ))}
    </tbody>
  </table>
);

/** In percent of the truth; where nothing was put in, what was read says it. */
const offBy = ({ putIn, read }: TruthRow): string => {
  if (read === null) return '–';
  if (putIn === 0) return read === 0 ? 'nothing' : '';
  return `${Math.abs((100 * (read - putIn)) / putIn).toFixed(1)} %`;
};
