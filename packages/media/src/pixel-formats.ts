import { z } from 'zod';

const Listing = z.object({
  pixel_formats: z.array(
    z.object({
      name: z.string(),
      nb_components: z.number(),
      log2_chroma_w: z.number().default(0),
      log2_chroma_h: z.number().default(0),
      flags: z.object({
        big_endian: z.number(),
        planar: z.number(),
        rgb: z.number(),
        alpha: z.number(),
        palette: z.number(),
      }),
      components: z.array(z.object({ bit_depth: z.number() })).default([]),
    }),
  ),
});

/** How a pixel format stores a picture, and the planar little-endian format of the same depth it is read in. */
export interface PixelFormat {
  readonly name: string;
  readonly depth: number;
  readonly rgb: boolean;
  /** No colour: luma alone. */
  readonly grey: boolean;
  /** Luma samples for one chroma sample, as powers of two. */
  readonly log2ChromaWidth: number;
  readonly log2ChromaHeight: number;
  /** Format of the full-size frames in the feed. */
  readonly planar: string;
}

let known: Map<string, PixelFormat> | null = null;

/** What the tool that reads headers must be told to list its formats as well: nothing once they are known, for it takes its time to start. */
export const askingForFormats = (): readonly string[] => (known ? [] : ['-show_pixel_formats']);

/**
 * Looks a pixel format up in the decoder's own list.
 * @param printed what the tool printed that was told {@link askingForFormats}
 */
export const pixelFormat = (name: string, printed: unknown): PixelFormat | undefined =>
  (known ??= listIn(printed)).get(name);

const listIn = (printed: unknown): Map<string, PixelFormat> => {
  const { pixel_formats } = Listing.parse(printed);
  const names = new Set(pixel_formats.map((f) => f.name));
  return new Map(
    pixel_formats.map((f) => {
      const colours = f.nb_components - f.flags.alpha;
      const rgb = f.flags.rgb === 1 || f.flags.palette === 1;
      const grey = colours === 1 && !rgb;
      const depth = f.flags.palette === 1 ? 8 : Math.max(1, ...f.components.map((c) => c.bit_depth));
      const shape = {
        name: f.name,
        depth,
        rgb,
        grey,
        log2ChromaWidth: grey || rgb ? 0 : f.log2_chroma_w,
        log2ChromaHeight: grey || rgb ? 0 : f.log2_chroma_h,
      };
      return [f.name, { ...shape, planar: planarOf(shape, names) }] as const;
    }),
  );
};

const SUBSAMPLING: Record<string, string> = {
  '0,0': '444',
  '1,0': '422',
  '1,1': '420',
  '2,0': '411',
  '2,2': '410',
  '0,1': '440',
};
/** Depths for which planar formats exist; an odd one is read in the next deeper. */
const DEPTHS = [8, 9, 10, 12, 14, 16];

const planarOf = (shape: Omit<PixelFormat, 'planar'>, names: ReadonlySet<string>): string => {
  // Full-range formats of old are kept by their own name, so that nothing is scaled on the way.
  if (/^yuvj\d+p$/.test(shape.name)) return shape.name;
  const depths = DEPTHS.filter((d) => d >= shape.depth);
  const family = shape.rgb
    ? 'gbrp'
    : shape.grey
      ? 'gray'
      : `yuv${SUBSAMPLING[`${shape.log2ChromaWidth},${shape.log2ChromaHeight}`] ?? '444'}p`;
  const found = depths.map((d) => `${family}${d === 8 ? '' : `${d}le`}`).find((n) => names.has(n));
  return found ?? `${family}16le`;
};
