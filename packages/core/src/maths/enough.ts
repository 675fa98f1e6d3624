/**
 * Fewer values than this tell nothing by their median or by a fit: the median of eight strays by nearly half of their spread
 * (1.25 / √8 = 0.44 standard deviations, of a normal distribution), that of four by nearly two thirds.
 */
export const ENOUGH = 8;

/** Of fewer than this one that is wrong cannot be outvoted. */
export const SEVERAL = 3;
