/** What a page asks of scoring, without the measures. */
export { comparable, targetsFrom, weigh } from '../trials/choose.js';
export { renderMinutes } from '../planning/gain.js';
export * from './beside.js';
export * from './judge.js';
export * from './severity.js';
export * from './worst-moment.js';
