// The loops of treatments: a module of its own, whose memory goes with the trial that needed it. Compiled by
// `npm run kernels` into src/treatments/compiled.ts.
export { OUT, FREE } from './layout';
export { PHASES, warpRow } from './warp';
export { addAlike, blendMean, meanOf, movedApart, shrinkBlocks, toCodes, SIDE, UNSEEN } from './average';
