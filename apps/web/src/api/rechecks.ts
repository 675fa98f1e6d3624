import type { ClipRecheck, Measurement, ReturnedFiles, SignRecheck, WaiveReason } from '@bevrin/contract';
import { api, whileCached } from './client.js';

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
    /** What was measured of a repaired file, frame by frame. */
    recheckMeasured: build.query<Measurement, string>({
      query: (id) => `rechecks/${id}/measurement`,
      providesTags: ['rechecks'],
    }),
    /** A repaired file, as it is sent or as it lies in a folder of the house. */
    returnFile: build.mutation<ClipRecheck, { clipId: string; who: string; file: File | string }>({
      query: ({ clipId, who, file }) =>
        typeof file === 'string'
          ? { url: `clips/${clipId}/returns`, method: 'POST', body: { who, path: file } }
          : {
              url: `clips/${clipId}/returns?${new URLSearchParams({ name: file.name, who }).toString()}`,
              method: 'PUT',
              body: file,
              headers: { 'content-type': 'application/octet-stream' },
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
