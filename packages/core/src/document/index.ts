/** What was seen and what follows from it: documents, specs, decisions and reports, with the terms they are made of. */
export * from '#terms';
export * from './defects.js';
export type { AnyDescriptor, Extent, Figure, Tolerance, Visibility } from '../measures/descriptor.js';
export * from './readings.js';
export * from './document.js';
export * from './spec.js';
export * from './gain-and-harm.js';
export * from './neighbours.js';
export * from './trial.js';
export * from './recheck.js';
export * from './setting-schema.js';
export * from './judged-reading.js';
export * from './decisions.js';
export * from './report.js';
export * from './summary.js';
export * from './stored.js';
export * from './names.js';
