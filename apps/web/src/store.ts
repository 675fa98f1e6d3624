import { configureStore } from '@reduxjs/toolkit';
import { setupListeners } from '@reduxjs/toolkit/query';
import { api, KEPT } from './api/client.js';
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
// What happened while the connection was lost was not told: all of it is asked again.
onReturn(() => store.dispatch(api.util.invalidateTags([...KEPT])));

export type State = ReturnType<typeof store.getState>;
