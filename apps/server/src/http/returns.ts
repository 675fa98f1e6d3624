import { Server } from '@tus/server';
import { Router } from 'express';
import { printable } from '@bevrin/contract';
import type { ClipStore } from '../clips/clips.js';
import type { DiskWatch } from '../clips/disk-watch.js';
import { ReturnMetadata, type ReturnStore } from '../rechecks/return-store.js';
import { Problem } from './problem.js';
import { inProtocol } from './uploads.js';

/** Repaired files that are sent, in the open resumable protocol tus 1.0; a clip takes up what is whole when it is told to. */
export const returnRoutes = (returns: ReturnStore, clips: ClipStore, disk: DiskWatch): Router => {
  const tus = new Server({
    path: '/api/return-uploads',
    relativeLocation: true,
    datastore: returns,
    onUploadCreate: async (_request, upload) => {
      const said = ReturnMetadata.safeParse(upload.metadata ?? {});
      if (!said.success) throw new Problem(400, 'What is sent does not say which clip and file it is.');
      const { name } = await clips.row(said.data.clipId);
      if (upload.size === 0)
        throw new Problem(
          422,
          `${printable(said.data.filename)}: the file is empty (0 bytes). Send the repaired file of ${name}.`,
        );
      disk.mustHaveRoom();
      return {};
    },
    onResponseError: (_request, error) => inProtocol(error),
  });
  return Router()
    .get(
      '/clips/:id/return-uploads',
      async (request, response) => void response.json(await returns.openFor(request.params.id)),
    )
    .all('/return-uploads{/*rest}', async (request, response) => {
      if (request.method === 'GET') throw new Problem(404, 'A file cannot be read while it is sent.');
      await tus.handle(request, response);
    });
};
