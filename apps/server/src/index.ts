export * from './config.js';
export * from './server.js';
export { PortTaken } from './api.js';
export { createApi } from './api.js';
export { createStore, type Store, type Surroundings } from './store.js';
export { createWorker } from './jobs/worker.js';
export { judgedUnder } from './clips/clip-rows.js';
export { keepThreads } from './jobs/threads.js';
