import { mean } from '@bevrin/core';
import { seeded, type Speck, type StudyClip } from '@bevrin/rig';
import { checkOf, TEN_BIT, type AccuracyCase, type Check } from './check.js';
import { judging } from './seeds.js';

const [WIDTH, HEIGHT] = [480, 270];
/** Spots show once the scene has passed behind them; specks come anew in each frame. */
const [SPOT_FRAMES, FRAMES] = [60, 36];

/** Dirt on the lens, clip pixels: it is soft, and a spot is found where its middle lies within half of its radius. */
const SPOTS = [
  { x: 142, y: 84, radiusPx: 12, density: 0.16 },
  { x: 322, y: 166, radiusPx: 16, density: 0.13 },
];
/** As small as dust is that a hand may carry the scene past. */
const DUST = [
  { x: 142, y: 84, radiusPx: 7, density: 0.22 },
  { x: 322, y: 166, radiusPx: 8, density: 0.2 },
];
/** One that takes little light, close to one that takes much. */
const TOGETHER = [
  { x: 142, y: 84, radiusPx: 13, density: 0.24 },
  { x: 178, y: 106, radiusPx: 12, density: 0.12 },
  { x: 330, y: 190, radiusPx: 16, density: 0.16 },
];
/** Of such one that takes half as much light. */
const FAINT = [...DUST, { x: 236, y: 60, radiusPx: 8, density: 0.11 }];
type Named = Partial<StudyClip> & Pick<StudyClip, 'study' | 'seed'>;
/** A clip with dirt in it. @param noise of each channel, % */
const drawn = (
  frames: number,
  noise: number,
  dirt: Pick<StudyClip, 'spots' | 'specks'>,
  clip: Named,
): StudyClip => ({
  width: WIDTH,
  height: HEIGHT,
  frames,
  codec: 'h264Lossless',
  noisePct: [noise, noise, noise],
  ...dirt,
  ...clip,
  seed: judging(clip.seed),
});

const spotted = (name: string, clip: Named, spots: typeof SPOTS, known?: string): AccuracyCase => ({
  measure: 'hotPixels',
  name,
  clip: drawn(SPOT_FRAMES, 0.6, { spots }, clip),
  checks: () => [
    { reading: 'hotPixels.spotCount', truth: spots.length, unit: 'spots', bar: 0, goal: 0, known },
    {
      reading: 'spots in their place',
      truth: spots.length,
      unit: '',
      bar: 0,
      goal: 0,
      known,
      from: ({ readings: { hotPixels } }) =>
        hotPixels.state === 'measured' && hotPixels.values.spots
          ? spots.filter((s) =>
              hotPixels.values.spots?.some((f) => Math.hypot(f.x - s.x, f.y - s.y) < s.radiusPx / 2),
            ).length
          : null,
    },
    ...(spots.length === 0 ? [] : [contrastOf(spots, known)]),
  ],
});

/** How much light spots take in their middle, %: what lies about them is counted to the ground in part. */
const contrastOf = (spots: typeof SPOTS, known?: string): Check => {
  const truth = 100 * mean(spots.map((s) => s.density));
  return {
    reading: 'light that spots take',
    truth,
    unit: '%',
    bar: 0.25 * truth,
    goal: 0.15 * truth,
    known,
    from: ({ readings: { hotPixels } }) =>
      hotPixels.state === 'measured' && hotPixels.values.spots?.length
        ? -mean(hotPixels.values.spots.map((s) => s.contrastPct))
        : null,
  };
};

/** Dirt that is there for a frame: so many in each, anywhere, dark ones and light ones as large as film has them. */
const dust = (perFrame: number, seed: number, levels: readonly number[] = [0.004, 0.8]): Speck[] => {
  const random = seeded(seed);
  return Array.from({ length: FRAMES * perFrame }, (_, i) => ({
    frame: Math.floor(i / perFrame),
    x: 12 + (WIDTH - 24) * random(),
    y: 12 + (HEIGHT - 24) * random(),
    radiusPx: 1.4 + 1.6 * random(),
    level: levels[i % levels.length],
  }));
};

/** Birds that take many frames to cross, each on its own way: dark, and up to 14 pixels further in each frame. */
const birds = (count: number, seed: number): Speck[] => {
  const random = seeded(seed);
  return Array.from({ length: count }, () => {
    const [x, y] = [WIDTH * random(), 20 + 0.6 * HEIGHT * random()];
    const [across, down] = [(random() < 0.5 ? -1 : 1) * (8 + 6 * random()), 3 * (random() - 0.5)];
    return Array.from({ length: FRAMES }, (_, frame) => ({
      frame,
      // Who has left on one side has come in on the other.
      x: (((x + across * frame) % WIDTH) + WIDTH) % WIDTH,
      y: y + down * Math.sin(frame / 9) * 4,
      radiusPx: 2.2,
      level: 0.01,
    }));
  }).flat();
};

const specked = (name: string, clip: Named, perFrame: number, specks: readonly Speck[]): AccuracyCase => ({
  measure: 'hotPixels',
  name,
  clip: drawn(FRAMES, 0.7, { specks }, clip),
  checks: () => [checkOf('hotPixels', 'specksPerFrame', perFrame)],
});

/** Dirt that stays, on the lens or before the sensor, and dirt that is there for a frame; and pictures that have none. */
export const DIRT_CASES: readonly AccuracyCase[] = [
  spotted(
    'spots, a slow pan over a wall',
    { study: 'wall', seed: 56, camera: { panPx: 24, handPx: 0.8 } },
    SPOTS,
  ),
  spotted(
    'spots, a pan over foliage',
    { study: 'foliage', seed: 57, camera: { panPx: 45, tiltPx: 8 } },
    SPOTS,
  ),
  spotted(
    'spots, a faint one beside a strong one, a pan over a wall',
    { study: 'wall', seed: 60, camera: { panPx: 40, tiltPx: 10, handPx: 2 } },
    TOGETHER,
  ),
  spotted(
    'spots, a faint one, an even pan that goes no further than they are wide',
    { study: 'dusk', seed: 74, camera: { panPx: 8 } },
    FAINT,
  ),
  spotted(
    'spots, by hand before bricks',
    { study: 'bricks', seed: 71, camera: { handPx: 5 } },
    DUST,
    'courses of brick, laid over one another, differ by more than dust takes: it says that it cannot tell',
  ),
  spotted('spots, by hand before foliage', { study: 'foliage', seed: 72, camera: { handPx: 6 } }, DUST),
  spotted('no spots, by hand before foliage', { study: 'foliage', seed: 73, camera: { handPx: 6 } }, []),
  spotted('no spots, a pan over foliage', { study: 'foliage', seed: 58, camera: { panPx: 45 } }, []),
  spotted(
    'no spots, a pan at night',
    { study: 'night', seed: 59, camera: { panPx: 30, handPx: 1 }, noisePct: [1.5, 1.5, 1.5] },
    [],
  ),
  {
    measure: 'hotPixels',
    name: 'no spots, posts before open ground, a slow pan',
    // Near and far cannot both be laid over one another: what is left of them is no dirt, though nothing may be told.
    clip: drawn(
      SPOT_FRAMES,
      0.6,
      {},
      {
        study: 'shore',
        seed: 303,
        camera: { panPx: 26, tiltPx: 2, handPx: 1.2, handDeg: 0.04 },
      },
    ),
    checks: () => [
      {
        reading: 'spots that are not there',
        truth: 0,
        unit: 'spots',
        bar: 0,
        goal: 0,
        from: ({ readings: { hotPixels } }) =>
          hotPixels.state === 'measured' ? (hotPixels.values.spots?.length ?? 0) : null,
      },
    ],
  },
  specked(
    'dust, by hand before foliage',
    { study: 'foliage', seed: 81, camera: { handPx: 2 } },
    3,
    dust(3, judging(81)),
  ),
  specked(
    'dust, a dozen in each frame, a pan over a wall',
    { study: 'wall', seed: 82, camera: { panPx: 30, handPx: 1 } },
    12,
    dust(12, judging(82)),
  ),
  specked(
    'dust that is light, at dusk, held',
    { ...TEN_BIT, study: 'dusk', seed: 83 },
    1,
    dust(1, judging(83), [0.7]),
  ),
  specked(
    'dust, thirty in each frame, a wall by hand',
    { study: 'wall', seed: 84, camera: { handPx: 3 } },
    30,
    dust(30, judging(84)),
  ),
  specked(
    'birds, ten at once, before a wall',
    { study: 'wall', seed: 85, camera: { handPx: 1 } },
    10,
    birds(10, judging(85)),
  ),
  specked('no dust, by hand at night', { study: 'night', seed: 86, camera: { handPx: 2 } }, 0, []),
  specked(
    'no dust, somebody large walks before foliage',
    { study: 'foliage', seed: 87, camera: { handPx: 1.5 }, subject: { tall: 1.1, pxPerSec: 140 } },
    0,
    [],
  ),
];
