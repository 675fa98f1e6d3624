export * from './config.js';
export * from './server.js';
