/**
 * Fewer values than this tell nothing by their median or by a fit: the median of eight strays by nearly half of their spread
 * (1.25 / √8 = 0.44 standard deviations, of a normal distribution), that of four by nearly two thirds. So many pairs of frames,
 * spread over a clip, are enough of what hundreds of places are read in each of; and so many neighbours say what is usual.
 */
export const ENOUGH = 8;

/** Of fewer than this one that is wrong cannot be outvoted. */
export const SEVERAL = 3;
