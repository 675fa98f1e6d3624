import type { KernelMemory } from '@bevrin/core';
import type { Loops, Room } from './loops.js';

/** How the rig writes a picture: planar YCbCr, BT.709 matrix, limited range (ITU-R BT.709-6, items 3.2 to 3.5). */
export interface PictureFormat {
  readonly bitDepth: 8 | 10;
  readonly chroma: '420' | '422' | '444';
  /** Black at the lowest code and white at the highest; else limited (ITU-R BT.709). */
  readonly range?: 'full';
}

/** Code of black and codes from there to white, or of no colour and from the least to the most of it. */
const codesOf = (
  { bitDepth, range }: PictureFormat,
  plane: 'luma' | 'chroma',
): { base: number; span: number } => {
  if (range === 'full') return { base: plane === 'luma' ? 0 : 2 ** (bitDepth - 1), span: 2 ** bitDepth - 1 };
  const scale = 2 ** (bitDepth - 8);
  return plane === 'luma'
    ? { base: 16 * scale, span: 219 * scale }
    : { base: 128 * scale, span: 224 * scale };
};

/** Pixels across and down for one sample of colour. */
export const stepsOf = ({ chroma }: PictureFormat): [number, number] => [
  chroma === '444' ? 1 : 2,
  chroma === '420' ? 2 : 1,
];

/** Floats that packing needs: three planes, and the codes. */
export const packerRooms = (width: number, height: number, format: PictureFormat): number[] => {
  const [stepX, stepY] = stepsOf(format);
  const chroma = Math.ceil(width / stepX) * Math.ceil(height / stepY);
  const planes = [width * height, chroma, chroma];
  return [...planes, Math.ceil((width * height + 2 * chroma) / 2)];
};

export const pixelFormatName = (format: PictureFormat): string =>
  `yuv${format.chroma}p${format.bitDepth === 8 ? '' : '10le'}`;

const KR = 0.2126;
const KB = 0.0722;

const CHANNELS = ['luma', 'cb', 'cr', 'red', 'green', 'blue'] as const;

/** Running noise power of what is stored, taken from the difference between the noisy and the clean picture. */
export class NoiseTruth {
  private readonly power = { luma: 0, cb: 0, cr: 0, red: 0, green: 0, blue: 0 };
  private samples = 0;

  /** Adds the power of some samples, in the order of `CHANNELS`. */
  add(power: (channel: number) => number, samples: number): void {
    CHANNELS.forEach((name, c) => (this.power[name] += power(c)));
    this.samples += samples;
  }

  /** Standard deviations in % of range. */
  sigmaPct(): Record<'luma' | 'cb' | 'cr' | 'red' | 'green' | 'blue', number> {
    const of = (power: number): number => 100 * Math.sqrt(power / Math.max(1, this.samples));
    const p = this.power;
    return {
      luma: of(p.luma),
      cb: of(p.cb),
      cr: of(p.cr),
      red: of(p.red),
      green: of(p.green),
      blue: of(p.blue),
    };
  }
}

/** Packs signal into code values, plane after plane, as a raw video stream wants them. */
export class Packer {
  private readonly memory: KernelMemory<Loops>;
  private readonly planes: readonly Room[];
  private readonly codes: Room;
  readonly bytes: Uint8Array;
  private readonly stepX: number;
  private readonly stepY: number;

  /** @param rooms as `packerRooms` asks for them */
  constructor(
    memory: KernelMemory<Loops>,
    rooms: readonly Room[],
    private readonly width: number,
    private readonly height: number,
    private readonly format: PictureFormat,
  ) {
    this.memory = memory;
    [this.stepX, this.stepY] = stepsOf(format);
    this.planes = rooms.slice(0, 3);
    this.codes = rooms[3];
    const total = this.planes.reduce((n, p) => n + p.floats.length, 0);
    const { buffer, byteOffset } = this.codes.floats;
    this.bytes = new Uint8Array(buffer, byteOffset, total * (format.bitDepth === 8 ? 1 : 2));
  }

  /** @returns the frame's bytes, overwritten by the next call */
  pack(noisy: Room, clean: Room, truth: NoiseTruth): Uint8Array {
    this.toPlanes(noisy);
    this.collectTruth(clean, truth);
    const { bitDepth } = this.format;
    const wide = bitDepth === 8 ? 0 : 1;
    let out = this.codes.at;
    this.planes.forEach(({ at, floats }, p) => {
      const { base, span } = codesOf(this.format, p === 0 ? 'luma' : 'chroma');
      this.memory.run.toCodes(at, floats.length, base, span, 2 ** bitDepth - 1, wide, out);
      out += floats.length * (1 + wide);
    });
    return this.bytes;
  }

  private toPlanes({ at }: Room): void {
    const { width, height, stepX, stepY } = this;
    const [luma, cb, cr] = this.planes;
    this.memory.run.toPlanes(at, width, height, stepX, stepY, KR, KB, luma.at, cb.at, cr.at);
  }

  private collectTruth(clean: Room, truth: NoiseTruth): void {
    const { width, height, stepX, stepY, memory, format } = this;
    const [luma, cb, cr] = this.planes;
    memory.run.noisePower(
      luma.at,
      cb.at,
      cr.at,
      clean.at,
      width,
      height,
      stepX,
      stepY,
      codesOf(format, 'luma').span,
      codesOf(format, 'chroma').span,
      KR,
      KB,
    );
    truth.add((channel) => memory.result(channel), memory.result(CHANNELS.length));
  }
}
