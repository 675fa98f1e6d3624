import { configureStore } from '@reduxjs/toolkit';
import { setupListeners } from '@reduxjs/toolkit/query';
import { api } from './api/client.js';
import { onReturn } from './api/live.js';
import { bench } from './clip/bench.js';
import { uploads } from './batch/uploads.js';

export const store = configureStore({
  reducer: {
    [api.reducerPath]: api.reducer,
    [uploads.reducerPath]: uploads.reducer,
    [bench.reducerPath]: bench.reducer,
  },
  middleware: (defaults) => defaults().concat(api.middleware),
});
setupListeners(store.dispatch);
onReturn(() =>
  store.dispatch(
    api.util.invalidateTags(['batches', 'batch', 'clip', 'plan', 'work', 'specs', 'status', 'trials']),
  ),
);

export type State = ReturnType<typeof store.getState>;
