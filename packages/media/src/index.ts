export * from './encode.js';
export * from './errors.js';
export * from './feed.js';
export * from './measure-clip.js';
export * from './probe.js';
export * from './source.js';
export * from './specs.js';
export * from './stills.js';
