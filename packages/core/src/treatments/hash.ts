/** Pseudo-random, the same for the same place: 0–1 (an integer hash after Wang 2007). */
export const hashed = (n: number): number => {
  let h = Math.imul(n ^ 61 ^ (n >>> 16), 9);
  h = Math.imul(h ^ (h >>> 4), 0x27d4eb2d);
  return ((h ^ (h >>> 15)) >>> 0) / 4294967296;
};
