/** What is slower than this is an operator's move; half of a movement at just this rate counts as meant. */
export const INTENDED_MOTION_HZ = 0.7;
