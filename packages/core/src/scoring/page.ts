/** What a page asks of scoring, without the measures. */
export * from './judge.js';
export * from './severity.js';
export * from './worst.js';
