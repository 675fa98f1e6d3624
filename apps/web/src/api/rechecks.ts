import {
  ClipRecheck,
  type ClipDetail,
  type Measurement,
  type ReturnFile,
  type ReturnedFiles,
  type SignRecheck,
  type WaiveReason,
} from '@bevrin/contract';
import { sendWhole } from '../batch/uploads.js';
import { api, whileCached } from './client.js';

/** A repaired file that is sent; `tell` is told the share that has come. */
interface SentReturn {
  readonly clipId: string;
  readonly who: string;
  readonly file: File;
  readonly tell?: (share: number) => void;
}

const sent = async (
  clipId: string,
  { file, tell }: Pick<SentReturn, 'file' | 'tell'>,
): Promise<{ upload: string } | { refused: string }> => {
  const came = await sendWhole(
    file,
    {
      endpoint: '/api/return-uploads',
      open: `/api/clips/${clipId}/return-uploads`,
      metadata: { clipId },
    },
    tell,
  );
  return 'refused' in came ? came : { upload: came.id };
};

/** Repaired files that come back, their proof, and what is said of it. */
export const recheckApi = api.injectEndpoints({
  endpoints: (build) => ({
    rechecks: build.query<ClipRecheck[], string>({
      query: (id) => `clips/${id}/rechecks`,
      providesTags: (_result, _error, id) => [{ type: 'rechecks', id }],
      onCacheEntryAdded: async (clipId, { dispatch, cacheEntryRemoved, cacheDataLoaded }) => {
        await whileCached(cacheDataLoaded, cacheEntryRemoved, (event) => {
          if (event.kind === 'recheck' && event.clipId === clipId)
            dispatch(api.util.invalidateTags([{ type: 'rechecks', id: clipId }]));
        });
      },
    }),
    /** One file of a clip, opened by itself. */
    version: build.query<ClipDetail, string>({
      query: (id) => `versions/${id}`,
      providesTags: (_result, _error, id) => [{ type: 'clip', id }],
      onCacheEntryAdded: async (id, { dispatch, cacheEntryRemoved, cacheDataLoaded }) => {
        const of = (await cacheDataLoaded.catch(() => null))?.data.versionOf?.clipId;
        await whileCached(cacheDataLoaded, cacheEntryRemoved, (event) => {
          if (event.kind === 'recheck' && event.clipId === of)
            dispatch(api.util.invalidateTags([{ type: 'clip', id }]));
        });
      },
    }),
    /** What was measured of a repaired file, frame by frame. */
    recheckMeasured: build.query<Measurement, string>({
      query: (id) => `rechecks/${id}/measurement`,
      providesTags: ['rechecks'],
    }),
    /** A repaired file, as it lies in a folder of the house, or as it was sent. */
    returnFile: build.mutation<
      ClipRecheck,
      ({ clipId: string; who: string; path: string } | SentReturn) & Pick<ReturnFile, 'madeFrom' | 'plan'>
    >({
      queryFn: async ({ clipId, who, madeFrom, plan, ...from }, _api, _extra, ask) => {
        const body = 'file' in from ? await sent(clipId, from) : from;
        if ('refused' in body) return { error: { status: 422, data: { error: body.refused } } };
        const answer = await ask({
          url: `clips/${clipId}/returns`,
          method: 'POST',
          body: { who, madeFrom, plan, ...body },
        });
        return answer.error ? { error: answer.error } : { data: ClipRecheck.parse(answer.data) };
      },
      invalidatesTags: (_result, _error, { clipId }) => [{ type: 'rechecks', id: clipId }, 'clip'],
    }),
    /** Repaired files of a folder of the house, each for the clip that it was made of. */
    returnFolder: build.mutation<ReturnedFiles, { batchId: string; who: string; path: string }>({
      query: ({ batchId, ...body }) => ({ url: `batches/${batchId}/returns`, method: 'POST', body }),
      invalidatesTags: ['clip', 'rechecks'],
    }),
    signRecheck: build.mutation<ClipRecheck, { id: string; clipId: string } & SignRecheck>({
      query: ({ id, clipId: _clipId, ...body }) => ({ url: `rechecks/${id}/sign`, method: 'POST', body }),
      invalidatesTags: (_result, _error, { clipId }) => [{ type: 'rechecks', id: clipId }],
    }),
    waiveReason: build.mutation<ClipRecheck, { id: string; clipId: string } & WaiveReason>({
      query: ({ id, clipId: _clipId, ...body }) => ({ url: `rechecks/${id}/waive`, method: 'POST', body }),
      invalidatesTags: (_result, _error, { clipId }) => [{ type: 'rechecks', id: clipId }],
    }),
    recheckAgain: build.mutation<ClipRecheck, { id: string; clipId: string }>({
      query: ({ id }) => ({ url: `rechecks/${id}/again`, method: 'POST' }),
      invalidatesTags: (_result, _error, { clipId }) => [{ type: 'rechecks', id: clipId }],
    }),
  }),
});
