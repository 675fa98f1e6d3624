export * from './engine.js';
export * from './measures/all.js';
export * from './measures/measure.js';
export * from './picture/frame.js';
export * from './picture/signal.js';
