import { fromBase64 } from './base64.js';

const PAGE = 65536;
/** Vectors may reach a little beyond what they read. */
const MARGIN = 64;
/** Pictures begin at a multiple of this. */
const ALIGNED = 16;

interface Exports {
  readonly memory: WebAssembly.Memory;
  readonly OUT: { readonly value: number };
  readonly FREE: { readonly value: number };
}

/** Pictures that are kept: as many frames as one measure sets against one another, one more, and a table. */
export const SLOTS = 5;

const slotBytes = (samples: number): number => ALIGNED * Math.ceil((4 * samples + MARGIN) / ALIGNED);

/**
 * A WebAssembly module and its memory. Pictures are put in one after the other, from the start each time: what a call
 * leaves there lasts until the next `reserve`.
 */
export class KernelMemory<Loops> {
  readonly run: Exports & Loops;
  private samples!: Float32Array;
  private results!: Float64Array;
  private wholes!: Int32Array;
  private words!: Uint16Array;
  private doubles!: Float64Array;
  private bytes!: Uint8Array;
  private used = 0;
  /** Pictures that stay, the last one asked for first; each has a slot of so many samples below `base`. */
  private kept: { readonly samples: Float32Array; readonly at: number }[] = [];
  private slotSamples = 0;
  private base: number;

  /** @param compiled the module, as base64 */
  constructor(compiled: string) {
    const module = new WebAssembly.Module(fromBase64(compiled));
    this.run = new WebAssembly.Instance(module, { env: { abort: stop } }).exports as unknown as Exports &
      Loops;
    this.base = this.run.FREE.value;
    this.attach();
  }

  /** Memory that has grown is another buffer. */
  private attach(): void {
    const { memory, OUT } = this.run;
    this.samples = new Float32Array(memory.buffer);
    this.results = new Float64Array(memory.buffer, OUT.value, 8);
    this.wholes = new Int32Array(memory.buffer);
    this.words = new Uint16Array(memory.buffer);
    this.doubles = new Float64Array(memory.buffer);
    this.bytes = new Uint8Array(memory.buffer);
  }

  /** Makes room for so many samples in all, and forgets what was put in before. */
  reserve(samples: number, pictures: number): void {
    this.used = this.base;
    this.growTo(this.used + 4 * samples + (MARGIN + ALIGNED) * pictures);
  }

  private growTo(bytes: number): void {
    const { buffer } = this.run.memory;
    if (bytes <= buffer.byteLength) return;
    this.run.memory.grow(Math.ceil((bytes - buffer.byteLength) / PAGE));
    this.attach();
  }

  /**
   * Address of a picture that many calls ask for: it is put in once, and stays while no more than {@link SLOTS} others are
   * kept. Its samples must never change afterwards. To be called before `reserve`, which room is taken above.
   */
  keep(samples: Float32Array): number {
    const found = this.kept.findIndex((k) => k.samples === samples);
    if (found >= 0) {
      const [slot] = this.kept.splice(found, 1);
      this.kept.unshift(slot);
      return slot.at;
    }
    if (samples.length > this.slotSamples) this.layOutSlots(samples.length);
    const bytes = slotBytes(this.slotSamples);
    const taken = new Set(this.kept.map((k) => k.at));
    const first = this.run.FREE.value;
    const free = Array.from({ length: SLOTS }, (_, i) => first + i * bytes).find((at) => !taken.has(at));
    const at = free ?? this.kept.pop()!.at;
    this.kept.unshift({ samples, at });
    this.samples.set(samples, at / 4);
    return at;
  }

  private layOutSlots(samples: number): void {
    this.kept = [];
    this.slotSamples = samples;
    this.base = this.run.FREE.value + SLOTS * slotBytes(samples);
    this.growTo(this.base);
  }

  /** Address of room for so many samples. */
  room(samples: number): number {
    const at = this.used;
    this.used += ALIGNED * Math.ceil((4 * samples + MARGIN) / ALIGNED);
    return at;
  }

  /** Puts a picture in, unless it is kept; its address. */
  put(samples: ArrayLike<number>): number {
    const kept = this.kept.find((k) => k.samples === samples);
    if (kept) return kept.at;
    const at = this.room(samples.length);
    this.samples.set(samples, at / 4);
    return at;
  }

  /** Puts a plane of codes in, 16 bits each; its address. */
  putWords(samples: Uint8Array | Uint16Array): number {
    const at = this.room(Math.ceil(samples.length / 2));
    this.words.set(samples, at / 2);
    return at;
  }

  /** Puts bytes in; their address. */
  putBytes(samples: Uint8Array | Int8Array): number {
    const at = this.room(Math.ceil(samples.length / 4));
    this.bytes.set(samples, at);
    return at;
  }

  /** Puts whole numbers in, 32 bits each; their address. */
  putWholes(values: ArrayLike<number>): number {
    const at = this.room(values.length);
    this.wholes.set(values, at / 4);
    return at;
  }

  /** Puts 64-bit floats in; their address. */
  putDoubles(values: Float64Array): number {
    const at = this.room(2 * values.length);
    this.doubles.set(values, at / 8);
    return at;
  }

  /** Writes samples to an address. */
  set(at: number, samples: Float32Array): void {
    this.samples.set(samples, at / 4);
  }

  /** Writes samples of any kind to an address. */
  write(at: number, samples: ArrayLike<number>): void {
    this.samples.set(samples, at / 4);
  }

  /** Copies so many codes out. */
  getWords(at: number, count: number): Uint16Array {
    return this.words.slice(at / 2, at / 2 + count);
  }

  /** Copies so many bytes out. */
  getBytes(at: number, count: number): Uint8Array {
    return this.bytes.slice(at, at + count);
  }

  /** Copies so many 64-bit floats out. */
  getDoubles(at: number, count: number): Float64Array {
    return this.doubles.slice(at / 8, at / 8 + count);
  }

  /** The same into an array that is there. */
  copyDoubles(at: number, count: number, to: Float64Array): void {
    to.set(this.doubles.subarray(at / 8, at / 8 + count));
  }

  /** Copies so many samples out. */
  get(at: number, count: number): Float32Array {
    return this.samples.slice(at / 4, at / 4 + count);
  }

  /** Copies samples into an array that is there: as many as it has. */
  copy(at: number, to: Float32Array): Float32Array {
    to.set(this.samples.subarray(at / 4, at / 4 + to.length));
    return to;
  }

  /** The samples themselves; good until the next `reserve`. */
  view(at: number, count: number): Float32Array {
    return this.samples.subarray(at / 4, at / 4 + count);
  }

  fill(at: number, count: number, value: number): void {
    this.samples.fill(value, at / 4, at / 4 + count);
  }

  /** Whole numbers that were left from an address on; good until the next call. */
  viewWholes(at: number, count: number): Int32Array {
    return this.wholes.subarray(at / 4, at / 4 + count);
  }

  /** A whole number that was left at an address. */
  whole(at: number): number {
    return this.wholes[at / 4];
  }

  result(index: number): number {
    return this.results[index];
  }
}

const stop = (): never => {
  throw new Error('a kernel was called with a picture that does not fit');
};
