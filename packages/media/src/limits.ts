import { z } from 'zod';

/** How much of the machine one clip may take. A house sets its own in the environment. */
const Limits = z.object({
  /** 8K of cinema is 8192 × 4320, 35.4 million: what decodes in about half a gigabyte. */
  BEVRIN_MAX_PIXELS: z.coerce.number().int().positive().default(40_000_000),
  /** Six hours at 60 frames a second, 15 hours at 24. */
  BEVRIN_MAX_FRAMES: z.coerce.number().int().positive().default(1_300_000),
  /** A night and a day: what measures slower than this blocks the queue of a house. */
  BEVRIN_MAX_DECODE_MINUTES: z.coerce.number().positive().default(1440),
  /** A decoder that hands out nothing for this long is stuck; a frame of 8K takes well under a second. */
  BEVRIN_MAX_STALL_SECONDS: z.coerce.number().positive().default(120),
});

export interface DecodeLimits {
  /** Width times height of one frame. */
  readonly pixels: number;
  /** Frames of one clip. */
  readonly frames: number;
  /** Milliseconds that decoding one clip may take, */
  readonly decodeMs: number;
  /** and that may pass between two frames. */
  readonly stallMs: number;
}

/**
 * The limits that the environment names.
 * @throws {Error} naming the variable that is wrong
 */
export const readLimits = (environment: NodeJS.ProcessEnv): DecodeLimits => {
  const parsed = Limits.safeParse(environment);
  if (!parsed.success) {
    const [issue] = parsed.error.issues;
    throw new Error(`The environment variable ${issue.path.join('.')} is not usable: ${issue.message}`);
  }
  const { BEVRIN_MAX_PIXELS, BEVRIN_MAX_FRAMES, BEVRIN_MAX_DECODE_MINUTES, BEVRIN_MAX_STALL_SECONDS } =
    parsed.data;
  return {
    pixels: BEVRIN_MAX_PIXELS,
    frames: BEVRIN_MAX_FRAMES,
    decodeMs: BEVRIN_MAX_DECODE_MINUTES * 60_000,
    stallMs: BEVRIN_MAX_STALL_SECONDS * 1000,
  };
};

/** The limits of this house. */
export const houseLimits = (): DecodeLimits => readLimits(process.env);
