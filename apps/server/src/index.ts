export * from './config.js';
export * from './server.js';
export { judgedUnder } from './clips/clips.js';
