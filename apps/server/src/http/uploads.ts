import { EVENTS, Server, type Upload } from '@tus/server';
import { Router, type Request, type Response } from 'express';
import type { Logger } from 'pino';
import { printable } from '@bevrin/contract';
import type { ClipStore } from '../clips/clips.js';
import type { DiskWatch } from '../clips/disk-watch.js';
import { explain, Problem } from './problem.js';
import { UploadMetadata, type UploadStore } from '../clips/upload-store.js';

const TELL_EVERY_MS = 500;
/** A sender from whom nothing comes for this long has gone; how long the whole takes does not matter. */
const IDLE_MS = 120_000;
const RECONCILE_EVERY_MS = 15_000;

/**
 * Uploads in the open resumable protocol tus 1.0: written to disk as they come, and taken up again where they
 * stopped.
 */
export class UploadRoutes {
  /** Uploads that come in at this moment. */
  private readonly active = new Set<string>();
  private readonly timer: NodeJS.Timeout;

  constructor(
    private readonly clips: ClipStore,
    private readonly uploads: UploadStore,
    private readonly disk: DiskWatch,
    private readonly log: Logger,
    private readonly idleMs = IDLE_MS,
  ) {
    this.timer = setInterval(() => this.quietly(uploads.reconcile(this.active)), RECONCILE_EVERY_MS);
    this.timer.unref();
  }

  stop(): void {
    clearInterval(this.timer);
  }

  router(): Router {
    const tus = new Server({
      path: '/api/uploads',
      relativeLocation: true,
      datastore: this.uploads,
      postReceiveInterval: TELL_EVERY_MS,
      onUploadCreate: async (_request, upload) => {
        await this.begin(upload);
        return {};
      },
      onUploadFinish: async (_request, upload) => {
        await this.finish(upload);
        return {};
      },
      onResponseError: (_request, error) => inProtocol(error),
    });
    // Nobody waits for a listener: what it throws would end the process.
    tus.on(EVENTS.POST_RECEIVE, (_request, upload) => this.quietly(this.progressed(upload)));
    return Router()
      .get('/unclaimed-uploads', async (_request, response) => {
        response.json(await this.uploads.unclaimed());
      })
      .delete('/unclaimed-uploads/:uploadId', async (request, response) => {
        await this.uploads.discard(request.params.uploadId);
        response.status(204).end();
      })
      .get('/batches/:id/uploads', async (request, response) => {
        response.json(await this.uploads.openIn(request.params.id));
      })
      .all('/uploads{/*rest}', async (request, response) => {
        const uploadId = request.path.split('/').pop() ?? '';
        if (request.method === 'GET')
          throw new Problem(404, 'An upload cannot be read before it is complete.');
        if (request.method === 'HEAD' && (await this.answeredFromClip(uploadId, response))) return;
        if (request.method === 'PATCH') this.watch(uploadId, request, response);
        await tus.handle(request, response);
      });
  }

  /** Who asks after an upload that is complete is told so, however the request that completed it ended. */
  private async answeredFromClip(uploadId: string, response: Response): Promise<boolean> {
    if (!(await this.uploads.adoptIfComplete(uploadId))) return false;
    const size = await this.clips.sizeOfUpload(uploadId);
    response
      .status(200)
      .set({
        'tus-resumable': '1.0.0',
        'upload-offset': String(size),
        'upload-length': String(size),
        'cache-control': 'no-store',
      })
      .end();
    return true;
  }

  /** Notices a sender that goes, or falls silent. */
  private watch(uploadId: string, request: Request, response: Response): void {
    this.active.add(uploadId);
    request.setTimeout(this.idleMs, () => request.destroy());
    response.on('close', () => {
      this.active.delete(uploadId);
      if (!response.writableFinished) this.quietly(this.brokeOff(uploadId));
    });
  }

  private async begin(upload: Upload): Promise<void> {
    const metadata = UploadMetadata.safeParse(upload.metadata ?? {});
    if (!metadata.success) throw new Problem(400, 'The upload does not say which batch and file it is.');
    const { batchId, filename } = metadata.data;
    if (upload.size === 0)
      throw new Problem(
        422,
        `${printable(filename)}: the file is empty (0 bytes). Ask the sender for it again.`,
      );
    this.disk.mustHaveRoom();
    await this.clips.batch(batchId);
    const waiting = await this.uploads.clipWaitingFor(metadata.data, upload.size, this.active);
    if (!waiting) {
      await this.clips.add({ batchId, name: filename, state: 'receiving', file: { uploadId: upload.id } });
      return;
    }
    // The same file comes once more from its beginning: it is the same clip.
    await this.clips.restartUpload(waiting, upload.id);
    await this.uploads.forget(waiting.version.uploadId!);
  }

  private async finish(upload: Upload): Promise<void> {
    if (await this.uploads.adoptIfComplete(upload.id)) return;
    throw new Problem(404, 'The clip was removed while it was sent.');
  }

  private async progressed(upload: Upload): Promise<void> {
    const row = await this.clips.rowOfUpload(upload.id);
    if (!row || row.version.path !== null) return;
    await this.clips.change(row.id, {
      state: 'receiving',
      error: null,
      progress: Math.min(1, upload.offset / (upload.size ?? Infinity)),
    });
  }

  private async brokeOff(uploadId: string): Promise<void> {
    const row = await this.clips.rowOfUpload(uploadId);
    if (row && row.version.path === null && !(await this.uploads.adoptIfComplete(uploadId)))
      await this.uploads.interrupted(row);
  }

  /** For what nobody waits for; it is seen to again when the files are set against the clips. */
  private quietly(work: Promise<unknown>): void {
    work.catch((error: unknown) => this.log.warn({ err: error }, 'an upload could not be looked after'));
  }
}

/** What went wrong, in the form in which the protocol's server answers; its own refusals are in it already. */
export const inProtocol = (error: object): { status_code: number; body: string } | undefined => {
  if ('status_code' in error) return undefined;
  const { status, message } = explain(error);
  return { status_code: status, body: JSON.stringify({ error: message }) };
};
