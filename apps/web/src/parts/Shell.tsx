import { Dialog } from 'radix-ui';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link, Outlet, useParams } from 'react-router';
import { api } from '../api/client.js';

const KEYS: readonly (readonly [string, string])[] = [
  ['↑ ↓', 'previous or next clip, or defect'],
  ['Enter', 'open the clip'],
  ['S', 'sort: worst first, or as received'],
  ['Space', 'play or stop'],
  ['← →', 'one frame back or on'],
  ['Shift ← →', 'one second back or on'],
  ['Home End', 'first or last frame'],
  ['Z', 'picture: whole, actual size, 4 times'],
  ['M', 'marks on the picture'],
  ['Alt ↑ ↓', 'move a step of the plan'],
  ['Ctrl Z', 'take back the last decision on a plan'],
  ['Esc', 'back to the batch'],
  ['?', 'this sheet'],
];

/** What stands around every view: where one is, and the sheet of keys. */
export const Shell = () => {
  const { batchId, clipId } = useParams();
  const [keys, setKeys] = useState(false);
  const { data: batch } = api.useBatchQuery(batchId ?? '', { skip: !batchId });
  useHotkeys('shift+slash', () => setKeys(true), { useKey: false });
  return (
    <div className="flex h-screen flex-col">
      <header className="flex items-baseline gap-5 border-b border-ink bg-sheet px-5 py-2">
        <Link to="/" className="text-lg font-bold tracking-tight">
          Bevrin
        </Link>
        <nav aria-label="Where you are" className="flex min-w-0 items-baseline gap-2 text-sm text-soft">
          <Link to="/" className="hover:underline">
            Batches
          </Link>
          {batch && (
            <>
              <span aria-hidden>/</span>
              <Link to={`/batches/${batch.batch.id}`} className="truncate hover:underline">
                {batch.batch.name}
              </Link>
            </>
          )}
          {clipId && (
            <>
              <span aria-hidden>/</span>
              <span className="truncate text-ink">{batch?.clips.find((c) => c.id === clipId)?.name}</span>
            </>
          )}
        </nav>
        <Dialog.Root open={keys} onOpenChange={setKeys}>
          <Link to="/specs" className="ml-auto text-sm underline decoration-rule underline-offset-4">
            Delivery specs
          </Link>
          <Dialog.Trigger className="text-sm underline decoration-rule underline-offset-4">
            Keys
          </Dialog.Trigger>
          <Dialog.Portal>
            <Dialog.Overlay className="fixed inset-0 bg-black/40" />
            <Dialog.Content
              aria-describedby={undefined}
              className="fixed top-1/2 left-1/2 w-96 -translate-x-1/2 -translate-y-1/2 border border-ink bg-slip p-6"
            >
              <Dialog.Title className="mb-3 border-b border-ink pb-2 font-semibold">Keys</Dialog.Title>
              <dl className="grid grid-cols-[7rem_1fr] gap-y-1 text-sm">
                {KEYS.map(([key, does]) => (
                  <div key={key} className="contents">
                    <dt className="font-semibold">{key}</dt>
                    <dd>{does}</dd>
                  </div>
                ))}
              </dl>
              <Dialog.Close className="button mt-4">Close</Dialog.Close>
            </Dialog.Content>
          </Dialog.Portal>
        </Dialog.Root>
      </header>
      <Outlet />
    </div>
  );
};
