export * from '@bevrin/core/document';
export * from './api.js';
export * from './trials.js';
export * from './rechecks.js';
export * from './stage.js';
