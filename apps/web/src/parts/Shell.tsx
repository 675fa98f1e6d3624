import { useEffect, useState } from 'react';
import { Link, Outlet, useNavigate, useParams } from 'react-router';
import { api } from '../api/client.js';
import { recheckApi } from '../api/rechecks.js';
import { versionsAddress } from '../clip/versionAddress.js';
import { CommandList } from './CommandList.js';
import { useCommands, writing } from './commands.js';
import { KeySheet } from './KeySheet.js';
import { StorageNotice } from './StorageNotice.js';

/** What stands around every view: where one is, and the sheet of keys. */
export const Shell = () => {
  const { batchId, clipId, versionId } = useParams();
  const [keys, setKeys] = useState(false);
  const { data: batch } = api.useBatchQuery(batchId ?? '', { skip: !batchId });
  const { data: version } = recheckApi.useVersionQuery(versionId ?? '', { skip: !versionId });
  const clipName = batch?.clips.find((c) => c.id === clipId)?.name;
  const [list, setList] = useState(false);
  const navigate = useNavigate();
  useCommands('Everywhere', [
    { name: 'Find a command', keys: 'mod+k', inTexts: true, run: () => setList(true) },
    { name: 'Show the keys of this page', keys: 'shift+slash', run: () => setKeys(true) },
    { name: 'Go to the batches', keys: 'alt+b', run: () => void navigate('/') },
    { name: 'Go to the delivery specs', keys: 'alt+s', run: () => void navigate('/specs') },
  ]);
  // Where the question mark lies differs from keyboard to keyboard.
  useEffect(() => {
    const asks = (e: KeyboardEvent): void => {
      if (e.key === '?' && !writing() && !document.querySelector('[role=dialog]')) setKeys(true);
    };
    window.addEventListener('keydown', asks);
    return () => window.removeEventListener('keydown', asks);
  }, []);
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
              {versionId ? (
                <Link
                  to={version ? versionsAddress(version) : `/batches/${batchId}/clips/${clipId}`}
                  className="truncate hover:underline"
                >
                  {clipName}
                </Link>
              ) : (
                <span className="truncate text-ink">{clipName}</span>
              )}
            </>
          )}
          {version?.versionOf && (
            <>
              <span aria-hidden>/</span>
              <span className="truncate text-ink">version {version.versionOf.number}</span>
            </>
          )}
        </nav>
        <Link to="/specs" className="ml-auto text-sm underline decoration-rule underline-offset-4">
          Delivery specs
        </Link>
        <button
          className="text-sm underline decoration-rule underline-offset-4"
          onClick={() => setList(true)}
        >
          Commands
        </button>
        <KeySheet open={keys} onOpen={setKeys} />
        <CommandList open={list} onClose={() => setList(false)} />
      </header>
      <StorageNotice />
      <Outlet />
    </div>
  );
};
