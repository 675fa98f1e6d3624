/** What everything speaks of: the facts of a file, what a technician decided about it, and the shape of a reading. */
export * from './facts.js';
export * from './overrides.js';
export * from './reading.js';
export * from './amount.js';
export * from './printable.js';
