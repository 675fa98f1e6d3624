import { api } from '../api/client.js';

const inMB = (bytes: number): string => Math.round(bytes / 1e6).toLocaleString('en');

/** Says on every page that nothing is taken in or measured, and why, as long as that is so. */
export const StorageNotice = () => {
  const { data } = api.useStatusQuery();
  if (!data?.storage.paused) return null;
  const { freeBytes, reserveBytes } = data.storage;
  return (
    <p role="alert" className="border-b-2 border-ink bg-slip px-5 py-1.5 text-sm">
      <b className="font-semibold">The server’s disk is nearly full.</b>{' '}
      {freeBytes !== null &&
        `${inMB(freeBytes)} MB are free; ${inMB(reserveBytes)} MB are kept for decisions. `}
      Nothing is received or measured until some space is freed; then it goes on by itself. You can look and
      decide meanwhile.
    </p>
  );
};
