import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { Upload } from 'tus-js-client';

/** Files that the server refused or that stopped on their way, until the technician has read it. */
export const uploads = createSlice({
  name: 'uploads',
  initialState: { refused: [] as string[], waiting: 0 },
  reducers: {
    refused: (state, { payload }: PayloadAction<string>) => void state.refused.push(payload),
    waiting: (state, { payload }: PayloadAction<number>) => void (state.waiting = payload),
    read: (state) => void (state.refused = []),
  },
});

type UploadAction = ReturnType<(typeof uploads.actions)['refused' | 'waiting']>;

const RETRY_AFTER_MS = [500, 2000, 5000];

interface Sending {
  readonly file: File;
  readonly batchId: string;
}
const queue: Sending[] = [];
let sending = false;

/** Sends files one after another, in their order: five hundred at once would choke the line. */
export const sendFiles = async (
  files: readonly File[],
  batchId: string,
  dispatch: (action: UploadAction) => void,
): Promise<void> => {
  queue.push(...files.map((file) => ({ file, batchId })));
  dispatch(uploads.actions.waiting(queue.length));
  if (sending) return;
  sending = true;
  for (let next = queue.shift(); next; next = queue.shift()) {
    dispatch(uploads.actions.waiting(queue.length));
    const refusal = await send(next);
    if (refusal) dispatch(uploads.actions.refused(refusal));
  }
  sending = false;
};

/** Sends one file; one that was cut off before goes on where it stopped. */
const send = ({ file, batchId }: Sending): Promise<string | null> =>
  new Promise((done) => {
    const upload = new Upload(file, {
      endpoint: '/api/uploads',
      metadata: { filename: file.name, batchId },
      retryDelays: RETRY_AFTER_MS,
      removeFingerprintOnSuccess: true,
      fingerprint: async () => `bevrin ${batchId} ${file.name} ${file.size} ${file.lastModified}`,
      onError: (error) => done(reasonOf(error, file.name)),
      onSuccess: () => done(null),
    });
    void upload.findPreviousUploads().then(([earlier]) => {
      if (earlier) upload.resumeFromPreviousUpload(earlier);
      upload.start();
    });
  });

const reasonOf = (error: Error, name: string): string => {
  const body = (error as { originalResponse?: { getBody(): string } | null }).originalResponse?.getBody();
  try {
    if (body) return (JSON.parse(body) as { error: string }).error;
  } catch {
    // Not one of the server's own sentences.
  }
  return `${name}: the upload stopped. Drop the same file again: it goes on where it stopped.`;
};
