import { createApi, fetchBaseQuery, type FetchBaseQueryError } from '@reduxjs/toolkit/query/react';
import type { SerializedError } from '@reduxjs/toolkit';
import { signature } from '../parts/signature.js';
import { listen } from './live.js';
import {
  type Batch,
  type BatchDetail,
  type Clip,
  type ClipDetail,
  type ClipPlan,
  type ClipTrial,
  type AskTrial,
  type TriableTreatment,
  type CreateBatch,
  type HouseStatus,
  type DeliverySpec,
  type LiveEvent,
  type MakeDecision,
  type SaveSpec,
  type ClipReadings,
  type SpecVersion,
  type TruthRow,
  type UnclaimedUpload,
  type WorkItem,
} from '@bevrin/contract';

/** A browser sends at most 64 KiB for a page that has been left already. */
const MOST_KEPT_ALIVE = 20_000;

/** Hears what the server tells as long as an answer is kept. */
export const whileCached = async (
  loaded: Promise<unknown>,
  removed: Promise<void>,
  hear: (event: LiveEvent) => void,
): Promise<void> => {
  await loaded.catch(() => undefined);
  const stop = listen(hear);
  await removed;
  stop();
};

/** What is kept of the server's answers, by what makes it old. */
export const KEPT = [
  'batches',
  'batch',
  'clip',
  'specs',
  'plan',
  'work',
  'status',
  'unclaimed',
  'trials',
  'rechecks',
] as const;

/** Everything the pages ask of the server. What it pushes goes straight into what was asked before. */
export const api = createApi({
  reducerPath: 'api',
  baseQuery: fetchBaseQuery({
    baseUrl: '/api',
    prepareHeaders: (headers) => headers.set('x-bevrin-actor', encodeURIComponent(signature())),
  }),
  tagTypes: KEPT,
  endpoints: (build) => ({
    status: build.query<HouseStatus, void>({
      query: () => 'status',
      providesTags: ['status'],
      onCacheEntryAdded: async (_arg, { updateCachedData, cacheEntryRemoved, cacheDataLoaded }) => {
        await whileCached(
          cacheDataLoaded,
          cacheEntryRemoved,
          (event) => event.kind === 'status' && updateCachedData(() => event.status),
        );
      },
    }),
    unclaimed: build.query<UnclaimedUpload[], void>({
      query: () => 'unclaimed-uploads',
      providesTags: ['unclaimed'],
    }),
    discardUpload: build.mutation<void, string>({
      query: (id) => ({ url: `unclaimed-uploads/${id}`, method: 'DELETE' }),
      invalidatesTags: ['unclaimed'],
    }),
    specs: build.query<DeliverySpec[], void>({ query: () => 'specs', providesTags: ['specs'] }),
    specVersions: build.query<SpecVersion[], string>({
      query: (id) => `specs/${id}/versions`,
      providesTags: ['specs'],
    }),
    saveSpec: build.mutation<DeliverySpec, SaveSpec>({
      query: (body) => ({ url: 'specs', method: 'POST', body }),
      invalidatesTags: ['specs', 'batch', 'clip'],
    }),
    seen: build.query<ClipReadings[], { batchId: string; specId: string }>({
      query: ({ batchId, specId }) => `batches/${batchId}/seen?spec=${encodeURIComponent(specId)}`,
      providesTags: ['specs', 'clip'],
    }),
    batches: build.query<Batch[], void>({ query: () => 'batches', providesTags: ['batches'] }),
    createBatch: build.mutation<Batch, CreateBatch>({
      query: (body) => ({ url: 'batches', method: 'POST', body }),
      invalidatesTags: ['batches'],
    }),
    batch: build.query<BatchDetail, string>({
      query: (id) => `batches/${id}`,
      providesTags: (_result, _error, id) => [{ type: 'batch', id }],
      onCacheEntryAdded: async (batchId, { updateCachedData, cacheEntryRemoved, cacheDataLoaded }) => {
        await whileCached(cacheDataLoaded, cacheEntryRemoved, (event) =>
          updateCachedData((detail) => applyToBatch(detail, batchId, event)),
        );
      },
    }),
    truth: build.query<TruthRow[], string>({ query: (id) => `batches/${id}/truth` }),
    changeSpec: build.mutation<BatchDetail, { batchId: string; specId: string }>({
      query: ({ batchId, specId }) => ({ url: `batches/${batchId}`, method: 'PATCH', body: { specId } }),
      invalidatesTags: (_result, _error, { batchId }) => [{ type: 'batch', id: batchId }, 'clip', 'batches'],
    }),
    registerPath: build.mutation<{ added: Clip[] }, { batchId: string; path: string }>({
      query: ({ batchId, path }) => ({ url: `batches/${batchId}/clips`, method: 'POST', body: { path } }),
      invalidatesTags: (_result, _error, { batchId }) => [{ type: 'batch', id: batchId }],
    }),
    clip: build.query<ClipDetail, string>({
      query: (id) => `clips/${id}`,
      providesTags: (_result, _error, id) => [{ type: 'clip', id }],
      onCacheEntryAdded: async (
        clipId,
        { dispatch, updateCachedData, cacheEntryRemoved, cacheDataLoaded },
      ) => {
        await cacheDataLoaded.catch(() => undefined);
        const stop = listen((event) => {
          if (event.kind !== 'clip' || event.clip.id !== clipId) return;
          updateCachedData((detail) => void Object.assign(detail, event.clip));
          // The readings themselves are large and come only when they are there.
          if (event.clip.state === 'measured')
            dispatch(api.util.invalidateTags([{ type: 'clip', id: clipId }]));
        });
        await cacheEntryRemoved;
        stop();
      },
    }),
    plan: build.query<ClipPlan, string>({
      query: (id) => `clips/${id}/plan`,
      providesTags: (_result, _error, id) => [{ type: 'plan', id }, 'specs'],
    }),
    decide: build.mutation<ClipPlan, { clipId: string } & MakeDecision>({
      query: ({ clipId, ...body }) => ({
        url: `clips/${clipId}/decisions`,
        method: 'POST',
        body,
        keepalive: JSON.stringify(body).length < MOST_KEPT_ALIVE,
      }),
      invalidatesTags: (_result, _error, { clipId }) => [{ type: 'plan', id: clipId }, 'work'],
    }),
    undo: build.mutation<ClipPlan, string>({
      query: (clipId) => ({ url: `clips/${clipId}/decisions/undo`, method: 'POST' }),
      invalidatesTags: (_result, _error, clipId) => [{ type: 'plan', id: clipId }, 'work'],
    }),
    treatments: build.query<TriableTreatment[], void>({ query: () => 'treatments' }),
    trials: build.query<ClipTrial[], string>({
      query: (id) => `clips/${id}/trials`,
      providesTags: (_result, _error, id) => [{ type: 'trials', id }],
      onCacheEntryAdded: async (clipId, { dispatch, cacheEntryRemoved, cacheDataLoaded }) => {
        await whileCached(cacheDataLoaded, cacheEntryRemoved, (event) => {
          if (event.kind === 'trial' && event.clipId === clipId)
            dispatch(api.util.invalidateTags([{ type: 'trials', id: clipId }]));
        });
      },
    }),
    askTrial: build.mutation<ClipTrial, { clipId: string } & AskTrial>({
      query: ({ clipId, ...body }) => ({ url: `clips/${clipId}/trials`, method: 'POST', body }),
      invalidatesTags: (_result, _error, { clipId }) => [{ type: 'trials', id: clipId }],
    }),
    cancelTrial: build.mutation<ClipTrial, { id: string; clipId: string }>({
      query: ({ id }) => ({ url: `trials/${id}/cancel`, method: 'POST' }),
      invalidatesTags: (_result, _error, { clipId }) => [{ type: 'trials', id: clipId }],
    }),
    work: build.query<WorkItem[], string>({
      query: (id) => `batches/${id}/work`,
      providesTags: ['work', 'specs'],
    }),
    /** `before` is the note that this one was written on. It is sent even while the page is being left. */
    saveNote: build.mutation<Clip, { clipId: string; note: string; before: string }>({
      query: ({ clipId, note, before }) => ({
        url: `clips/${clipId}`,
        method: 'PATCH',
        body: { note, noteBefore: before },
        keepalive: true,
      }),
      invalidatesTags: (_result, _error, { clipId }) => [{ type: 'clip', id: clipId }],
    }),
    changeClipSpec: build.mutation<Clip, { clipId: string; specId: string | null }>({
      query: ({ clipId, specId }) => ({ url: `clips/${clipId}`, method: 'PATCH', body: { specId } }),
      invalidatesTags: ['clip', 'batch', 'plan', 'work'],
    }),
    measureAgain: build.mutation<ClipDetail, string>({
      query: (id) => ({ url: `clips/${id}/measure`, method: 'POST' }),
    }),
    removeClip: build.mutation<void, string>({ query: (id) => ({ url: `clips/${id}`, method: 'DELETE' }) }),
  }),
});

const applyToBatch = (detail: BatchDetail, batchId: string, event: LiveEvent): void => {
  if (event.kind === 'status' || event.kind === 'trial' || event.kind === 'recheck') return;
  if (event.kind === 'clipRemoved') {
    detail.clips = detail.clips.filter((c) => c.id !== event.clipId);
    return;
  }
  if (event.clip.batchId !== batchId) return;
  const at = detail.clips.findIndex((c) => c.id === event.clip.id);
  if (at >= 0) detail.clips[at] = event.clip;
  else detail.clips.push(event.clip);
};

/** What a failed request means, in the server's own sentence where it has one. */
export const sayError = (error: FetchBaseQueryError | SerializedError | undefined): string => {
  if (error && 'data' in error && typeof (error.data as { error?: unknown } | null)?.error === 'string')
    return (error.data as { error: string }).error;
  return 'The server does not answer. Check that Bevrin is running, then try again.';
};
