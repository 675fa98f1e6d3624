export * from './api.js';
export * from './defects.js';
export * from './document.js';
export * from './facts.js';
export * from './overrides.js';
export * from './readings.js';
export * from './spec.js';
export * from './seen.js';
