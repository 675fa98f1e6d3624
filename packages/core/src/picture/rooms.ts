/**
 * Room for pictures that are only good for a few frames. Memory is used again instead of being asked for anew with every
 * frame; each picture that is handed out is an object of its own, so that nothing that knew the last one takes it for that.
 */
export class Rooms {
  private readonly buffers = new Map<number, ArrayBuffer[]>();

  /** @param lasting how many pictures of one size must be good at once, that which is asked for included */
  constructor(private readonly lasting: number) {}

  /** Room for so many samples. Holds what was left there. */
  take(samples: number): Float32Array {
    const ring = this.buffers.get(samples) ?? [];
    this.buffers.set(samples, ring);
    const buffer = ring.length < this.lasting ? new ArrayBuffer(4 * samples) : ring.shift()!;
    ring.push(buffer);
    return new Float32Array(buffer);
  }
}
