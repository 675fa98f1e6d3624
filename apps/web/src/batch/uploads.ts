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

/** Where files are sent, and where it is told what has come of them. */
interface Way {
  readonly endpoint: string;
  readonly open: string;
  readonly metadata: Readonly<Record<string, string>>;
}

/** What the server has of this very file already, whoever began to send it, from whichever page. */
const begunBefore = async (file: File, { endpoint, open }: Way): Promise<string | null> => {
  const answer = await fetch(open).catch(() => null);
  if (!answer?.ok) return null;
  const mine = z
    .array(OpenUpload)
    .parse(await answer.json())
    .find((u) => u.name === file.name && u.size === file.size && u.lastModified === file.lastModified);
  return mine ? `${endpoint}/${mine.uploadId}` : null;
};

const send = async ({ file, batchId }: Sending): Promise<string | null> => {
  const sent = await sendWhole(file, {
    endpoint: '/api/uploads',
    open: `/api/batches/${batchId}/uploads`,
    metadata: { batchId },
  });
  return 'refused' in sent ? sent.refused : null;
};

/**
 * Sends one file; one that was cut off before goes on where it stopped.
 * @param tell told the share that has come, 0–1
 * @returns its id on the server, or why it did not come whole
 */
export const sendWhole = async (
  file: File,
  way: Way,
  tell: (share: number) => void = () => undefined,
): Promise<{ readonly id: string } | { readonly refused: string }> => {
  const uploadUrl = await begunBefore(file, way);
  return new Promise((done) => {
    const upload = new Upload(file, {
      endpoint: way.endpoint,
      metadata: { ...way.metadata, filename: file.name, lastModified: String(file.lastModified) },
      chunkSize: PIECE_BYTES,
      retryDelays: RETRY_AFTER_MS,
      storeFingerprintForResuming: false,
      uploadUrl,
      onProgress: (sent, all) => tell(sent / Math.max(1, all)),
      onError: (error) => done({ refused: reasonOf(error, file.name) }),
      onSuccess: () => done({ id: upload.url?.split('/').pop() ?? '' }),
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
