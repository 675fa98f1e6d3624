export * from './config.js';
export * from './server.js';
export { judgedUnder } from './clips.js';
