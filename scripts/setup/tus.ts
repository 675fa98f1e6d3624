const TUS = { 'tus-resumable': '1.0.0' };
const encoded = (text: string): string => Buffer.from(text).toString('base64');

/** Opens an upload in the protocol tus 1.0. */
export const openUpload = async (
  url: string,
  batchId: string,
  name: string,
  size: number,
  lastModified = 1_700_000_000_000,
): Promise<{ status: number; address: string; text: string }> => {
  const answer = await fetch(`${url}/api/uploads`, {
    method: 'POST',
    headers: {
      ...TUS,
      'upload-length': String(size),
      'upload-metadata': `filename ${encoded(name)},batchId ${encoded(batchId)},lastModified ${encoded(String(lastModified))}`,
    },
  });
  return {
    status: answer.status,
    address: `${url}${answer.headers.get('location') ?? ''}`,
    text: await answer.text(),
  };
};

/** The same for a repaired file of a clip. */
export const openReturn = async (
  url: string,
  clipId: string,
  name: string,
  size: number,
): Promise<{ status: number; address: string; text: string }> => {
  const answer = await fetch(`${url}/api/return-uploads`, {
    method: 'POST',
    headers: {
      ...TUS,
      'upload-length': String(size),
      'upload-metadata': `filename ${encoded(name)},clipId ${encoded(clipId)},lastModified ${encoded('1700000000000')}`,
    },
  });
  return {
    status: answer.status,
    address: `${url}${answer.headers.get('location') ?? ''}`,
    text: await answer.text(),
  };
};

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
