import { Link } from 'react-router';
import { VERDICTS, type DeliverySpec, type ClipReadings } from '@bevrin/contract';
import { VerdictMark } from '../parts/VerdictMark.js';
import { changesBetween, countsOf, verdictsUnder } from './draft.js';

/** More than these are counted, not listed. */
const MOST_LISTED = 12;

interface Props {
  readonly clips: readonly ClipReadings[];
  readonly saved: DeliverySpec;
  readonly draft: DeliverySpec;
  readonly batchId: string;
}

/** What the limits as they stand on the page would do to the batch, before anything is saved. */
export const WhatIf = ({ clips, saved, draft, batchId }: Props) => {
  const [before, after] = [countsOf(verdictsUnder(clips, saved)), countsOf(verdictsUnder(clips, draft))];
  const changes = changesBetween(clips, saved, draft);
  return (
    <section aria-label="What this does to the batch" aria-live="polite">
      <h2 className="heading border-b border-ink pb-1">This batch under these limits</h2>
      <table className="w-full text-sm">
        <thead className="sr-only">
          <tr>
            <th>Verdict</th>
            <th>As saved</th>
            <th>As drawn here</th>
          </tr>
        </thead>
        <tbody>
          {VERDICTS.map((v) => (
            <tr key={v} className="border-b border-hair">
              <td className="py-1">
                <VerdictMark verdict={v} />
              </td>
              <td className="text-right">{before[v]}</td>
              <td className="w-6 text-center text-soft">→</td>
              <td className={`text-right ${before[v] === after[v] ? '' : 'font-bold'}`}>{after[v]}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="pt-2 text-sm">
        {changes.length === 0
          ? 'No clip changes its verdict.'
          : `${changes.length} ${changes.length === 1 ? 'clip changes its verdict' : 'clips change their verdict'}:`}
      </p>
      <ul className="text-sm">
        {changes.slice(0, MOST_LISTED).map(({ clip, from, to }) => (
          <li key={clip.clipId} className="border-b border-hair py-1">
            <Link className="block truncate hover:underline" to={`/batches/${batchId}/clips/${clip.clipId}`}>
              {clip.clip}
            </Link>
            <span className="flex items-baseline gap-2 pt-1.5">
              <VerdictMark verdict={from} /> → <VerdictMark verdict={to} />
            </span>
          </li>
        ))}
      </ul>
      {changes.length > MOST_LISTED && (
        <p className="pt-1 text-sm text-soft">and {changes.length - MOST_LISTED} more</p>
      )}
    </section>
  );
};
