import { expose, transfer } from 'comlink';
import {
  FrameLayout,
  type ClipFacts,
  type Overrides,
  type Region,
  type ViewingTransform,
} from '@bevrin/contract';
import {
  lineOf,
  paintContours,
  paintDifference,
  paintMask,
  paint,
  paintNoise,
  patchOf,
  pointAt,
  spectrumAt,
  tableOf,
  tilesOf,
  transformOf,
  type Plane,
  type LineProfile,
  type PatchReading,
  type PointSample,
  type FollowedTile,
  type ShownChannel,
} from '@bevrin/core/inspect';

/** Which frame of which clip. */
export interface FrameName {
  readonly clipId: string;
  /** Content of its file; `null` while it is not known. */
  readonly content: string | null;
  readonly frame: number;
  readonly facts: ClipFacts;
  /** The run of a trial that treated it; left out where it is as it came. */
  readonly tried?: TriedRun;
}

/** One setting of a trial, whose frames are kept. */
export interface TriedRun {
  readonly trialId: string;
  readonly run: number;
}

/** A repaired file is looked at as the one run of a trial of this name is: laid over the original, frame by frame. */
export const returnedRun = (recheckId: string): TriedRun => ({ trialId: `${RETURNED}${recheckId}`, run: 0 });
const RETURNED = 'returned:';

/** How a frame is shown. */
export interface Look {
  readonly channel: ShownChannel;
  readonly viewing: ViewingTransform | null;
  /** The noise with the picture taken out, so many times amplified; `null` shows the picture. */
  readonly noiseGain: number | null;
  /** What a treatment took away from the frame, so many times amplified; only of a treated frame. */
  readonly takenGain?: number | null;
  /** What a treated frame is set against; the frame as it came where it is not said. */
  readonly against?: TriedRun | null;
  /** Where a treatment worked, over the frame as it came. */
  readonly masked?: boolean;
}

export interface Shown {
  readonly bitmap: ImageBitmap;
  /** Said where what is shown is not all that it seems. */
  readonly remark: string | null;
}

/** Bytes of frames that are kept: another channel needs no second reading, and a second of a trial plays from here. */
const KEPT_BYTES = 384 * 2 ** 20;
/** However large they are, so many frames are kept. */
const LEAST_KEPT = 6;

const frames = new Map<
  string,
  { readonly planes: Promise<readonly Plane[]>; readonly stop: AbortController; bytes: number }
>();
const wanted = new Map<string, string>();
let table: { readonly key: string; readonly values: Float32Array } | null = null;

const keyOf = ({ clipId, content, frame, tried }: FrameName): string =>
  tried ? `${tried.trialId}/${tried.run}/${frame}` : `${clipId}/${content}/${frame}`;

const addressOf = ({ clipId, content, frame, tried }: FrameName): string =>
  tried
    ? tried.trialId.startsWith(RETURNED)
      ? `/api/rechecks/${tried.trialId.slice(RETURNED.length)}/frames/${frame}.planes`
      : `/api/trials/${tried.trialId}/runs/${tried.run}/frames/${frame}.planes`
    : `/api/clips/${clipId}/frames/${frame}.planes${content ? `?of=${content}` : ''}`;

const planesOf = (name: FrameName): Promise<readonly Plane[]> => {
  const key = keyOf(name);
  const known = frames.get(key);
  if (known) {
    // The one that was looked at last is forgotten last.
    frames.delete(key);
    frames.set(key, known);
    return known.planes;
  }
  const stop = new AbortController();
  const planes = fetchPlanes(addressOf(name), stop.signal);
  const kept = { planes, stop, bytes: 0 };
  frames.set(key, kept);
  planes.then(
    (all) => (kept.bytes = all.reduce((sum, p) => sum + p.samples.byteLength, 0)),
    () => frames.delete(key),
  );
  forgetOldest();
  return planes;
};

const forgetOldest = (): void => {
  let bytes = [...frames.values()].reduce((sum, f) => sum + f.bytes, 0);
  for (const [key, frame] of frames) {
    if (bytes <= KEPT_BYTES || frames.size <= LEAST_KEPT) return;
    frames.delete(key);
    bytes -= frame.bytes;
  }
};

const maskOf = async (name: FrameName): Promise<Plane> => {
  const { signal } = new AbortController();
  const [mask] = await fetchPlanes(addressOf(name).replace('/frames/', '/masks/'), signal);
  return mask;
};

const fetchPlanes = async (address: string, signal: AbortSignal): Promise<readonly Plane[]> => {
  const answer = await fetch(address, { signal });
  if (!answer.ok) throw new Error(((await answer.json()) as { error: string }).error);
  const layout = FrameLayout.parse(JSON.parse(answer.headers.get('x-frame-layout') ?? ''));
  const bytes = await answer.arrayBuffer();
  let offset = 0;
  return layout.planes.map(({ width, height }) => {
    const count = width * height;
    const samples =
      layout.bytesPerSample === 1
        ? new Uint8Array(bytes, offset, count)
        : new Uint16Array(bytes, offset, count);
    offset += count * layout.bytesPerSample;
    return { width, height, samples };
  });
};

const tableFor = (viewing: ViewingTransform | null, facts: ClipFacts): Float32Array | null => {
  if (!viewing) return null;
  const key = JSON.stringify([viewing, facts.transfer]);
  if (table?.key !== key) table = { key, values: tableOf(transformOf(viewing, facts.transfer)) };
  return table.values;
};

/** The frame as it came, or as another setting left it. */
const otherOf = ({ tried: _, ...name }: FrameName, against: TriedRun | null = null): FrameName =>
  against ? { ...name, tried: against } : name;

/** The frame after, or before the last. */
const neighbourOf = (name: FrameName): FrameName => ({
  ...name,
  frame: name.frame + 1 < name.facts.frames ? name.frame + 1 : Math.max(0, name.frame - 1),
});

const pictures = {
  /**
   * Fetches a frame and turns it into a picture. An older wish of the same pane is given up.
   * @param pane which of the pictures on the page it is for
   */
  async show(pane: string, name: FrameName, look: Look): Promise<Shown> {
    const before = wanted.get(pane);
    wanted.set(pane, keyOf(name));
    if (before && before !== keyOf(name) && ![...wanted.values()].includes(before)) {
      const old = frames.get(before);
      // What is there already is kept; only what is on its way is stopped.
      const settled = await Promise.race([
        old?.planes.then(
          () => true,
          () => true,
        ),
        Promise.resolve(false),
      ]);
      if (old && !settled) {
        old.stop.abort();
        frames.delete(before);
      }
    }
    const planes = await planesOf(name);
    const [{ width, height }] = planes;
    const out = new Uint8ClampedArray(4 * width * height);
    let remark: string | null = null;
    if (look.masked && name.tried)
      paintMask(await planesOf(otherOf(name)), await maskOf(name), name.facts, out);
    else if (look.takenGain && name.tried)
      paintDifference(await planesOf(otherOf(name, look.against)), planes, name.facts, look.takenGain, out);
    else if (look.noiseGain === null)
      paint(planes, name.facts, look.channel, tableFor(look.viewing, name.facts), out);
    else if (!paintNoise(planes, await planesOf(neighbourOf(name)), name.facts, look.noiseGain, out))
      remark = 'the two frames could not be registered: what moved shows too';
    const bitmap = await createImageBitmap(new ImageData(out, width, height));
    return transfer({ bitmap, remark }, [bitmap]);
  },

  /** Fetches a frame that will be wanted next. */
  async expect(name: FrameName): Promise<void> {
    await planesOf(name).catch(() => undefined);
  },

  async point(name: FrameName, x: number, y: number): Promise<PointSample | null> {
    return pointAt(await planesOf(name), name.facts, x, y);
  },

  async patch(
    name: FrameName,
    patch: NonNullable<Overrides['noisePatch']>,
    viewing: ViewingTransform | null,
  ): Promise<PatchReading> {
    const [first, second] = await Promise.all([planesOf(name), planesOf(neighbourOf(name))]);
    return patchOf(first, second, name.facts, patch, viewing ?? undefined);
  },

  async line(
    name: FrameName,
    from: readonly [number, number],
    to: readonly [number, number],
  ): Promise<LineProfile> {
    const [luma] = await planesOf(name);
    return lineOf(luma, name.facts, from, to);
  },

  /** Which places go with the camera to the next frame, and which do not. */
  async tiles(name: FrameName): Promise<readonly FollowedTile[] | null> {
    const next = neighbourOf(name);
    if (next.frame <= name.frame) return null;
    const [[first], [second]] = await Promise.all([planesOf(name), planesOf(next)]);
    return tilesOf(first, second, name.facts);
  },

  /** Contours of code values inside banded places, as a picture to lay over. */
  async contours(name: FrameName, regions: readonly Region[]): Promise<ImageBitmap> {
    const [luma] = await planesOf(name);
    const out = new Uint8ClampedArray(4 * luma.width * luma.height);
    paintContours(luma, name.facts.bitDepth, regions, out);
    const bitmap = await createImageBitmap(new ImageData(out, luma.width, luma.height));
    return transfer(bitmap, [bitmap]);
  },

  /** Spatial frequencies of a place, in decibels below the strongest. */
  async spectrum(
    name: FrameName,
    region: Pick<Region, 'x' | 'y' | 'width' | 'height'>,
  ): Promise<Float32Array | null> {
    const [luma] = await planesOf(name);
    return spectrumAt(luma, region);
  },
};

export type Pictures = typeof pictures;

expose(pictures);
