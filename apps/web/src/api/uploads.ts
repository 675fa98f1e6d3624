import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { Upload } from 'tus-js-client';

/** Files that the server refused or that stopped on their way, until the technician has read it. */
export const uploads = createSlice({
  name: 'uploads',
  initialState: { refused: [] as string[] },
  reducers: {
    refused: (state, { payload }: PayloadAction<string>) => void state.refused.push(payload),
    read: (state) => void (state.refused = []),
  },
});

const RETRY_AFTER_MS = [500, 2000, 5000];

/** Sends a file; one that was cut off before goes on where it stopped. */
export const sendFile = async (
  file: File,
  batchId: string,
  onRefused: (message: string) => void,
): Promise<void> => {
  const upload = new Upload(file, {
    endpoint: '/api/uploads',
    metadata: { filename: file.name, batchId },
    retryDelays: RETRY_AFTER_MS,
    removeFingerprintOnSuccess: true,
    fingerprint: async () => `bevrin ${batchId} ${file.name} ${file.size} ${file.lastModified}`,
    onError: (error) => onRefused(reasonOf(error, file.name)),
  });
  const [earlier] = await upload.findPreviousUploads();
  if (earlier) upload.resumeFromPreviousUpload(earlier);
  upload.start();
};

const reasonOf = (error: Error, name: string): string => {
  const body = (error as { originalResponse?: { getBody(): string } | null }).originalResponse?.getBody();
  try {
    if (body) return (JSON.parse(body) as { error: string }).error;
  } catch {
    // Not one of the server's own sentences.
  }
  return `${name}: the upload stopped. Drop the same file again: it goes on where it stopped.`;
};
