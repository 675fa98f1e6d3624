/** What a page asks of scoring, without the measures. */
export { renderMinutes } from '../planning/gain.js';
export * from './judge.js';
export * from './severity.js';
export * from './worst-moment.js';
