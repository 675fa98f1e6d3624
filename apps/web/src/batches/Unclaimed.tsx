import { api, sayError } from '../api/client.js';
import { whenText } from '../parts/format.js';

const size = (bytes: number): string =>
  bytes >= 1e9 ? `${(bytes / 1e9).toFixed(1)} GB` : `${(bytes / 1e6).toFixed(1)} MB`;

/** Files that uploads left on the server and that belong to no clip: nobody removes them but a person. */
export const Unclaimed = () => {
  const { data: files } = api.useUnclaimedQuery(undefined, { refetchOnMountOrArgChange: true });
  const [discard, { error }] = api.useDiscardUploadMutation();
  if (!files || files.length === 0) return null;
  return (
    <section aria-label="Files that belong to no clip" className="mt-10 border-t border-rule pt-4 text-sm">
      <h2 className="text-base font-semibold">Files that belong to no clip</h2>
      <p className="mb-2 text-soft">
        Left by uploads whose clip was removed, or was never made. Nothing is measured from them.
      </p>
      {error && <p role="alert">{sayError(error)}</p>}
      <ul>
        {files.map(({ uploadId, name, bytes, at }) => (
          <li key={uploadId} className="flex items-baseline gap-4 border-b border-hair py-1">
            <span className="min-w-0 flex-1 truncate">{name ?? 'a file whose name is not known'}</span>
            <span>{size(bytes)}</span>
            <span className="text-soft">{whenText(at)}</span>
            <button
              className="button"
              aria-label={`Remove ${name ?? 'the file'}`}
              onClick={() => void discard(uploadId)}
            >
              Remove
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
};
