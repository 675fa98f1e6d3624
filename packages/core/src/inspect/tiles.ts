import type { ClipFacts } from '#document';
import { cameraMotion } from '../motion/camera.js';
import { prepare, register } from '../motion/register.js';
import { STILL } from '../motion/similarity.js';
import { followTiles } from '../motion/tiles.js';
import type { Plane } from '../picture/frame.js';
import { halve, smoothed, type Level } from '../picture/pyramid.js';
import { smallScale } from '../picture/signal.js';

/** A place of the picture and where it went in the next frame, clip pixels. */
export interface FollowedTile {
  readonly x: number;
  readonly y: number;
  readonly dx: number;
  readonly dy: number;
  /** Whether it goes with the camera. */
  readonly follows: boolean;
}

/** Tiles are followed in a picture of at most this width, as the measure of shake does. */
const FOLLOWED_WIDTH = 640;

/**
 * Follows tiles from one frame to the next, and tells those that go with the camera from those that do not.
 * @returns `null` where too few tiles agree on a motion
 */
export const tilesOf = (
  first: Plane,
  second: Plane,
  facts: Pick<ClipFacts, 'bitDepth' | 'range'>,
): readonly FollowedTile[] | null => {
  const [a, b] = [reduced(first, facts.bitDepth), reduced(second, facts.bitDepth)];
  const scale = first.width / a.width;
  const guess = register(prepare(a), prepare(b))?.motion ?? STILL;
  const tiles = followTiles(smoothed(a), smoothed(b), guess, null, smallScale(facts).black);
  const camera = cameraMotion(tiles, guess, a.width, a.height);
  if (!camera) return null;
  const seen: FollowedTile[] = [];
  for (let i = 0; i < tiles.count; i++)
    if (tiles.found[i])
      seen.push({
        x: (tiles.x[i] + a.width / 2) * scale,
        y: (tiles.y[i] + a.height / 2) * scale,
        dx: tiles.dx[i] * scale,
        dy: tiles.dy[i] * scale,
        follows: camera.outliers[i] === 0,
      });
  return seen;
};

/** As the small view shows it: codes of 16 bits, a half, a quarter … of the size. */
const reduced = ({ width, height, samples }: Plane, bitDepth: number): Level => {
  const up = 2 ** (16 - bitDepth);
  let level: Level = { width, height, samples: Float32Array.from(samples, (v) => v * up) };
  while (level.width > FOLLOWED_WIDTH) level = halve(level);
  return level;
};
