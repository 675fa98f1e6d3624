import type { PictureMask, Shape } from '#terms';

/** What is left out of the picture, frame by frame. Positions in clip pixels. */
export class Mask {
  constructor(private readonly parts: readonly PictureMask[] = []) {}

  get empty(): boolean {
    return this.parts.length === 0;
  }

  covers(frame: number, x: number, y: number): boolean {
    return this.parts.some((part) => isAt(part, frame) && contains(part.shape, x, y));
  }

  /** Whether a rectangle touches what is left out: told at its corners, its middle and the middles of its sides. */
  touches(frame: number, x: number, y: number, width: number, height: number): boolean {
    if (this.empty) return false;
    for (const u of [0, 0.5, 1])
      for (const v of [0, 0.5, 1]) if (this.covers(frame, x + u * width, y + v * height)) return true;
    return false;
  }

  /**
   * The mask laid over a picture of another size: 1 where it is left out, `null` where nothing is.
   * @param scale clip pixels for one pixel of that picture
   */
  over(frame: number, width: number, height: number, scale: { x: number; y: number }): Uint8Array | null {
    if (!this.parts.some((part) => isAt(part, frame))) return null;
    const out = new Uint8Array(width * height);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        if (this.covers(frame, (x + 0.5) * scale.x, (y + 0.5) * scale.y)) out[y * width + x] = 1;
    return out;
  }
}

const isAt = ({ frames }: PictureMask, frame: number): boolean =>
  !frames || (frame >= frames.startFrame && frame <= frames.endFrame);

const contains = (shape: Shape, x: number, y: number): boolean => {
  if (shape.kind === 'rectangle')
    return x >= shape.x && x < shape.x + shape.width && y >= shape.y && y < shape.y + shape.height;
  // Even–odd rule: a ray to the right crosses the outline an odd number of times.
  let inside = false;
  const { points } = shape;
  for (let i = 0, j = points.length - 1; i < points.length; j = i++) {
    const [xi, yi] = points[i];
    const [xj, yj] = points[j];
    if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) inside = !inside;
  }
  return inside;
};
