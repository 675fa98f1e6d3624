import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { Upload } from 'tus-js-client';
import { z } from 'zod';
import { OpenUpload } from '@bevrin/contract';

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

/** Pieces in which a file is sent: each is on the server's disk when the next is sent, and no request takes long. */
const PIECE_BYTES = 32 * 2 ** 20;
/** A server that is started again, or waits for room on its disk, is tried for some two hours. */
const RETRY_AFTER_MS = [500, 2000, 5000, ...Array.from({ length: 480 }, () => 15_000)];

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
    const { name } = next.file;
    const refusal = await send(next).catch(() => stopped(name));
    if (refusal) dispatch(uploads.actions.refused(refusal));
  }
  sending = false;
};

/** What the server has of this very file already, whoever began to send it, from whichever page. */
const begunBefore = async ({ file, batchId }: Sending): Promise<string | null> => {
  const answer = await fetch(`/api/batches/${batchId}/uploads`).catch(() => null);
  if (!answer?.ok) return null;
  const open = z.array(OpenUpload).parse(await answer.json());
  const mine = open.find(
    (u) => u.name === file.name && u.size === file.size && u.lastModified === file.lastModified,
  );
  return mine ? `/api/uploads/${mine.uploadId}` : null;
};

/** Sends one file; one that was cut off before goes on where it stopped. */
const send = async (sending: Sending): Promise<string | null> => {
  const { file, batchId } = sending;
  const uploadUrl = await begunBefore(sending);
  return new Promise((done) => {
    const upload = new Upload(file, {
      endpoint: '/api/uploads',
      metadata: { filename: file.name, batchId, lastModified: String(file.lastModified) },
      chunkSize: PIECE_BYTES,
      retryDelays: RETRY_AFTER_MS,
      storeFingerprintForResuming: false,
      uploadUrl,
      onError: (error) => done(reasonOf(error, file.name)),
      onSuccess: () => done(null),
    });
    upload.start();
  });
};

const reasonOf = (error: Error, name: string): string => {
  const body = (error as { originalResponse?: { getBody(): string } | null }).originalResponse?.getBody();
  try {
    if (body) return (JSON.parse(body) as { error: string }).error;
  } catch {
    // Not one of the server's own sentences.
  }
  return stopped(name);
};

const stopped = (name: string): string =>
  `${name}: the upload stopped. Drop the same file again: it goes on where it stopped.`;
