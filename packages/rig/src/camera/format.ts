/** How the rig writes a picture: planar YCbCr, BT.709 matrix, limited range (ITU-R BT.709-6, items 3.2 to 3.5). */
export interface PictureFormat {
  readonly bitDepth: 8 | 10;
  readonly chroma: '420' | '422' | '444';
}

export const pixelFormatName = (format: PictureFormat): string =>
  `yuv${format.chroma}p${format.bitDepth === 8 ? '' : '10le'}`;

const KR = 0.2126;
const KB = 0.0722;
const KG = 1 - KR - KB;

/** Running noise power of what is stored, taken from the difference between the noisy and the clean picture. */
export class NoiseTruth {
  private readonly power = { luma: 0, cb: 0, cr: 0, red: 0, green: 0, blue: 0 };
  private samples = 0;

  add(y: number, cb: number, cr: number): void {
    const p = this.power;
    const red = y + 2 * (1 - KR) * cr;
    const blue = y + 2 * (1 - KB) * cb;
    const green = y - ((2 * KB * (1 - KB)) / KG) * cb - ((2 * KR * (1 - KR)) / KG) * cr;
    p.luma += y * y;
    p.cb += cb * cb;
    p.cr += cr * cr;
    p.red += red * red;
    p.green += green * green;
    p.blue += blue * blue;
    this.samples++;
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
  private readonly planes: Float32Array[];
  private readonly cleanPlanes: Float32Array[];
  readonly bytes: Uint8Array;
  private readonly codes: Uint8Array | Uint16Array;
  private readonly stepX: number;
  private readonly stepY: number;

  constructor(
    private readonly width: number,
    private readonly height: number,
    private readonly format: PictureFormat,
  ) {
    this.stepX = format.chroma === '444' ? 1 : 2;
    this.stepY = format.chroma === '420' ? 2 : 1;
    const chroma = Math.ceil(width / this.stepX) * Math.ceil(height / this.stepY);
    const sizes = [width * height, chroma, chroma];
    this.planes = sizes.map((n) => new Float32Array(n));
    this.cleanPlanes = sizes.map((n) => new Float32Array(n));
    const total = sizes[0] + 2 * chroma;
    this.codes = format.bitDepth === 8 ? new Uint8Array(total) : new Uint16Array(total);
    this.bytes = new Uint8Array(this.codes.buffer);
  }

  /** @returns the frame's bytes, overwritten by the next call */
  pack(noisy: Float32Array, clean: Float32Array, truth: NoiseTruth): Uint8Array {
    this.toPlanes(noisy, this.planes);
    this.toPlanes(clean, this.cleanPlanes);
    this.collectTruth(truth);
    const scale = 2 ** (this.format.bitDepth - 8);
    const top = 2 ** this.format.bitDepth - 1;
    let o = 0;
    this.planes.forEach((plane, p) => {
      const span = (p === 0 ? 219 : 224) * scale;
      const base = (p === 0 ? 16 : 128) * scale;
      for (let i = 0; i < plane.length; i++)
        this.codes[o++] = Math.max(0, Math.min(top, Math.round(base + span * plane[i])));
    });
    return this.bytes;
  }

  private toPlanes(signal: Float32Array, planes: Float32Array[]): void {
    const { width, height, stepX, stepY } = this;
    const [luma, cb, cr] = planes;
    cb.fill(0);
    cr.fill(0);
    const chromaWidth = Math.ceil(width / stepX);
    for (let y = 0, i = 0, p = 0; y < height; y++) {
      const row = Math.floor(y / stepY) * chromaWidth;
      const tall = Math.min(stepY, height - Math.floor(y / stepY) * stepY);
      for (let x = 0; x < width; x++, i += 3, p++) {
        const value = KR * signal[i] + KG * signal[i + 1] + KB * signal[i + 2];
        luma[p] = value;
        const c = row + Math.floor(x / stepX);
        const wide = Math.min(stepX, width - Math.floor(x / stepX) * stepX);
        cb[c] += (signal[i + 2] - value) / (2 * (1 - KB) * tall * wide);
        cr[c] += (signal[i] - value) / (2 * (1 - KR) * tall * wide);
      }
    }
  }

  private collectTruth(truth: NoiseTruth): void {
    const { width, height, stepX, stepY } = this;
    const chromaWidth = Math.ceil(width / stepX);
    const scale = 2 ** (this.format.bitDepth - 8);
    const stored = (p: number, i: number): number => {
      const span = (p === 0 ? 219 : 224) * scale;
      return Math.round(span * this.planes[p][i]) / span;
    };
    const difference = (p: number, i: number): number => stored(p, i) - this.cleanPlanes[p][i];
    for (let y = 0; y < height; y += 3)
      for (let x = y % 2; x < width; x += 3) {
        const c = Math.floor(y / stepY) * chromaWidth + Math.floor(x / stepX);
        truth.add(difference(0, y * width + x), difference(1, c), difference(2, c));
      }
  }
}
