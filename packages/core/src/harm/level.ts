import { median } from '../maths/robust.js';
import { planeScale } from '../picture/signal.js';
import { type HarmFigure } from './figure.js';
import { framesWith, type BeforeAfter } from './pair.js';

/** Means of blocks are compared: noise counts a sixteenth in them. */
const BLOCK = 16;
const BANDS = 8;
const LEAST_BLOCKS = 12;

/** Brightness or colour that changed, % of the range, the largest over the levels: luma, then the colour differences. */
export const levelShift = (pair: BeforeAfter): HarmFigure[] => {
  const { before, after } = pair;
  const { clip, firstFrame, pictures } = before.sequence;
  const frames = framesWith(pair, (f) => [f]);
  return pictures[0].planes.map((_, p): HarmFigure => {
    const { black, span } = planeScale(clip, p);
    const bands = Array.from(
      { length: BANDS },
      (): { change: number; x: number; y: number; frame: number }[] => [],
    );
    for (const { frame } of frames) {
      const [was, is] = [pictures[frame].planes[p], after.get(frame)!.planes[p]];
      for (let y = 0; y + BLOCK <= was.height; y += BLOCK)
        for (let x = 0; x + BLOCK <= was.width; x += BLOCK) {
          const [a, b] = [was, is].map((plane) => meanAt(plane, x, y));
          const level = (a - black) / span + (p === 0 || clip.matrix === 'rgb' ? 0 : 0.5);
          const band = Math.max(0, Math.min(BANDS - 1, Math.floor(level * BANDS)));
          bands[band].push({ change: (100 * (b - a)) / span, x, y, frame });
        }
    }
    let [most, blocks] = [0, 0];
    let worst: { x: number; y: number; frame: number } | null = null;
    for (const band of bands) {
      blocks += band.length;
      if (band.length < LEAST_BLOCKS) continue;
      const change = Math.abs(median(band.map((b) => b.change)));
      if (change <= most) continue;
      most = change;
      const place = band.reduce((a, b) => (Math.abs(b.change) > Math.abs(a.change) ? b : a));
      const k = pictures[0].planes[0].width / pictures[0].planes[p].width;
      worst = {
        x: k * (place.x + BLOCK / 2),
        y: k * (place.y + BLOCK / 2),
        frame: firstFrame + place.frame,
      };
    }
    return { value: most, tiles: blocks, frames: frames.length, worst };
  });
};

const meanAt = (
  { width, samples }: { width: number; samples: ArrayLike<number> },
  x: number,
  y: number,
): number => {
  let sum = 0;
  for (let v = 0; v < BLOCK; v++)
    for (let i = (y + v) * width + x, end = i + BLOCK; i < end; i++) sum += samples[i];
  return sum / (BLOCK * BLOCK);
};
