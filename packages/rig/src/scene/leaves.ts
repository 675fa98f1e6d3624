import { seeded, type Random } from '../random.js';
import { fractalAlong } from './fractal.js';
import { mixed, type Colour, type Texture } from './texture.js';

/** Of what sizes the leaves are, texels, and how often over they cover their box. */
export interface LeafSizes {
  readonly smallest: number;
  readonly largest: number;
  readonly cover?: number;
}

export interface LeafBox {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** An ellipse with a texture of its own, lit from one side. Texels. */
interface Leaf {
  readonly cx: number;
  readonly cy: number;
  readonly r: number;
  /** The shorter radius over the longer. */
  readonly ratio: number;
  readonly cos: number;
  readonly sin: number;
  readonly colour: Colour;
  readonly seed: number;
  /** By how much its light grows per texel. */
  readonly lx: number;
  readonly ly: number;
}

const MOST = 60_000;
/** How deep the texture of a leaf goes, and in how many octaves. */
const DEPTH = 0.35;
const OCTAVES = 5;
/** Rows that are painted at a time. */
const BAND = 128;

/** Radius between `smallest` and `largest` whose density falls with the cube: the sizes of things in photographs. */
const powerLawRadius = (random: Random, smallest: number, largest: number): number => {
  const a = smallest ** -2;
  const b = largest ** -2;
  return (a - (a - b) * random()) ** -0.5;
};

/**
 * Overlapping shaded things of power-law sizes with 1/f texture and hard edges (the "dead leaves" of Lee, Mumford
 * and Huang 2001), over a box of the plate or all of it.
 */
export const deadLeaves = (
  texture: Texture,
  seed: number,
  palette: readonly Colour[],
  box: LeafBox = { x: 0, y: 0, width: texture.width, height: texture.height },
  sizes: LeafSizes = { smallest: 5, largest: texture.height / 4 },
): void => {
  const leaves = fallen(seed, palette, box, sizes);
  for (let top = 0; top < texture.height; top += BAND) {
    const bottom = Math.min(texture.height, top + BAND);
    const here = leaves.filter(({ cy, r }) => cy + r + 1 > top && cy - r - 1 < bottom);
    if (here.length > 0) new Band(texture, top, bottom).paint(here);
  }
};

/** The leaves in the order in which they fell: the last lies on top. */
const fallen = (seed: number, palette: readonly Colour[], box: LeafBox, sizes: LeafSizes): Leaf[] => {
  const random = seeded(seed);
  const meanArea = Math.PI * sizes.smallest ** 2 * 2 * Math.log(sizes.largest / sizes.smallest);
  const count = Math.min(MOST, Math.ceil(((sizes.cover ?? 2.5) * box.width * box.height) / meanArea));
  return Array.from({ length: count }, (_, i) => {
    const r = powerLawRadius(random, sizes.smallest, sizes.largest);
    const [cx, cy] = [box.x + random() * box.width, box.y + random() * box.height];
    const colour = mixed(palette[Math.floor(random() * palette.length)], [0.4, 0.4, 0.4], random() * 0.25);
    const tone = 0.5 + random();
    const angle = random() * Math.PI;
    const ratio = 0.35 + 0.65 * random();
    const lit = random() * 2 * Math.PI;
    return {
      ...{ cx, cy, r, ratio, cos: Math.cos(angle), sin: Math.sin(angle), seed: i + seed },
      colour: [colour[0] * tone, colour[1] * tone, colour[2] * tone],
      lx: (Math.cos(lit) * 0.3) / r,
      ly: (Math.sin(lit) * 0.3) / r,
    };
  });
};

/** Some rows of a plate, painted from the front to the back: what is covered is not worked out. */
class Band {
  private readonly width: number;
  /** Light of the leaves so far, premultiplied, and the share that still shows what lies below them. */
  private readonly rgb: Float32Array;
  private readonly open: Float32Array;

  constructor(
    private readonly texture: Texture,
    private readonly top: number,
    private readonly bottom: number,
  ) {
    this.width = texture.width;
    this.rgb = new Float32Array(3 * this.width * (bottom - top));
    this.open = new Float32Array(this.width * (bottom - top)).fill(1);
  }

  paint(leaves: readonly Leaf[]): void {
    for (let i = leaves.length - 1; i >= 0; i--) this.under(leaves[i]);
    this.over(this.texture.rgba.subarray(4 * this.width * this.top));
  }

  /** Lays the leaves over what the plate shows in these rows. */
  private over(rgba: Float32Array): void {
    const { rgb, open } = this;
    for (let k = 0; k < open.length; k++) {
      const shown = open[k];
      if (shown === 1) continue;
      rgba[4 * k] = rgb[3 * k] + rgba[4 * k] * shown;
      rgba[4 * k + 1] = rgb[3 * k + 1] + rgba[4 * k + 1] * shown;
      rgba[4 * k + 2] = rgb[3 * k + 2] + rgba[4 * k + 2] * shown;
      rgba[4 * k + 3] = 1 - shown + rgba[4 * k + 3] * shown;
    }
  }

  /** Lays a leaf under those that lie there. */
  private under(leaf: Leaf): void {
    const { cx, cy, r, ratio, cos, sin } = leaf;
    const broken = fractalAlong(1 / Math.max(8, r), OCTAVES, leaf.seed);
    const from = Math.max(0, Math.floor(cx - r - 1));
    const to = Math.min(this.width, Math.ceil(cx + r + 1));
    const last = Math.min(this.bottom, Math.ceil(cy + r + 1));
    for (let row = Math.max(this.top, Math.floor(cy - r - 1)); row < last; row++) {
      const y = row + 0.5;
      let at = (row - this.top) * this.width + from;
      for (let column = from; column < to; column++, at++) {
        const open = this.open[at];
        if (open <= 0) continue;
        const x = column + 0.5;
        const u = ((x - cx) * cos + (y - cy) * sin) / r;
        const v = (-(x - cx) * sin + (y - cy) * cos) / (r * ratio);
        const cover = Math.min(1, (1 - Math.sqrt(u * u + v * v)) * r * ratio + 0.5);
        if (cover <= 0) continue;
        const light = 1 + DEPTH * 2 * (broken(x, y) - 0.5);
        const share = open * cover * light * (1 + (x - cx) * leaf.lx + (y - cy) * leaf.ly);
        this.rgb[3 * at] += share * leaf.colour[0];
        this.rgb[3 * at + 1] += share * leaf.colour[1];
        this.rgb[3 * at + 2] += share * leaf.colour[2];
        this.open[at] = open * (1 - cover);
      }
    }
  }
}
