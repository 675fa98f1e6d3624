const TUS = { 'tus-resumable': '1.0.0' };
const encoded = (text: string): string => Buffer.from(text).toString('base64');

interface Opened {
  readonly status: number;
  readonly address: string;
  readonly text: string;
}

/** @param said of the file, by name */
const opened = async (
  url: string,
  path: string,
  size: number,
  said: Readonly<Record<string, string>>,
): Promise<Opened> => {
  const answer = await fetch(`${url}${path}`, {
    method: 'POST',
    headers: {
      ...TUS,
      'upload-length': String(size),
      'upload-metadata': Object.entries(said)
        .map(([name, value]) => `${name} ${encoded(value)}`)
        .join(','),
    },
  });
  return {
    status: answer.status,
    address: `${url}${answer.headers.get('location') ?? ''}`,
    text: await answer.text(),
  };
};

const LAST_MODIFIED = 1_700_000_000_000;

/** Opens an upload in the protocol tus 1.0. */
export const openUpload = (
  url: string,
  batchId: string,
  name: string,
  size: number,
  lastModified = LAST_MODIFIED,
): Promise<Opened> =>
  opened(url, '/api/uploads', size, { filename: name, batchId, lastModified: String(lastModified) });

/** The same for a repaired file of a clip. */
export const openReturn = (url: string, clipId: string, name: string, size: number): Promise<Opened> =>
  opened(url, '/api/return-uploads', size, {
    filename: name,
    clipId,
    lastModified: String(LAST_MODIFIED),
  });

export const sendPart = (address: string, offset: number, part: Uint8Array<ArrayBuffer>): Promise<Response> =>
  fetch(address, {
    method: 'PATCH',
    headers: { ...TUS, 'upload-offset': String(offset), 'content-type': 'application/offset+octet-stream' },
    body: part,
  });

/** Asks how much of an upload has come. */
export const askOffset = (address: string): Promise<Response> =>
  fetch(address, { method: 'HEAD', headers: TUS });

/** How much of an upload has come, as the server says; no number where it knows of none. */
export const offsetOf = async (address: string): Promise<number> => {
  const answer = await askOffset(address);
  return answer.ok ? Number(answer.headers.get('upload-offset')) : NaN;
};
