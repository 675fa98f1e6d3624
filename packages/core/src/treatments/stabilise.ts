import { cropFor } from '../measures/shake/path.js';
import { planeScale } from '../picture/signal.js';
import { CameraPath, type Displacement } from './camera-path.js';
import type { Runner } from './runner.js';
import type { Picture, Sequence } from './sequence.js';
import { numberOf } from './settings.js';
import { meshOf, warped, type RowMap } from './warp.js';

const MODELS = ['position', 'position and rotation', 'position, rotation and scale'] as const;

/** The picture is set back by its jitter about the intended move; what is lost at the border is given up. */
export const stabilise: Runner = {
  treatment: 'stabilise',
  settings: {
    smoothingFrames: { kind: 'number', unit: 'frames', least: 2, most: 250, step: 1, otherwise: 25 },
    strengthPct: { kind: 'number', unit: '%', least: 0, most: 100, step: 5, otherwise: 100 },
    passes: { kind: 'number', unit: '', least: 1, most: 2, step: 1, otherwise: 1 },
    motionModel: { kind: 'choice', options: MODELS, otherwise: 'position' },
    keepMove: { kind: 'flag', otherwise: true },
    /** The most of each axis that may be given up. */
    cropPct: { kind: 'number', unit: '%', least: 0, most: 40, step: 0.1, otherwise: 15 },
    enlarge: { kind: 'flag', otherwise: true },
  },
  swept: 'strengthPct',
  sweepAbout: (value) =>
    [...new Set([40, 60, 80, value, 100].map((v) => Math.min(100, Math.round(v))))].sort((a, b) => a - b),
  judgedOverFrames: 40,
  neighbours: () => 0,
  begin: (study, settings, measurement) => {
    const { sequence } = study;
    const { clip } = sequence;
    const jitter = CameraPath.of(measurement)?.jitter(
      numberOf(settings, 'smoothingFrames'),
      settings.keepMove === true,
    );
    // A second pass takes its share of what the first has left.
    const strength = 1 - (1 - numberOf(settings, 'strengthPct') / 100) ** numberOf(settings, 'passes');
    const model = MODELS.indexOf(settings.motionModel as (typeof MODELS)[number]);
    const wanted = (frame: number): Displacement => {
      const found = jitter?.(frame) ?? { x: 0, y: 0, turn: 0, zoom: 0 };
      return {
        x: strength * found.x,
        y: strength * found.y,
        turn: model > 0 ? strength * found.turn : 0,
        zoom: model > 1 ? strength * found.zoom : 0,
      };
    };
    const cropOf = ({ x, y, turn }: Displacement): number => cropFor(x, y, turn, clip.width, clip.height);
    let needed = 0;
    for (let frame = 0; frame < clip.frames; frame++) needed = Math.max(needed, cropOf(wanted(frame)));
    const crop = Math.min(needed, numberOf(settings, 'cropPct') / 100);
    const kept = settings.enlarge === true ? 1 - crop : 1;
    const off = (index: number): Placed => {
      const { x, y, turn, zoom } = wanted(sequence.firstFrame + index);
      // A frame that would show its border is set back by as much as may be given up.
      const share = Math.min(1, crop / Math.max(1e-9, cropOf({ x, y, turn, zoom })));
      return { x: share * x, y: share * y, turn: share * turn, scale: kept * (1 + share * zoom) };
    };
    const tops = topsOf(sequence);
    return {
      cropPct: 100 * crop,
      treat: (index) => {
        const picture = sequence.pictures[index];
        return warped(picture, placed(picture, off(index)), tops, blackOf(sequence));
      },
      mesh: (index) => meshOf(sequence.pictures[index], placed(sequence.pictures[index], off(index))),
      undo: (index, picture) => {
        const { x, y, turn, scale } = off(index);
        const k = 1 / (scale * (1 + turn * turn));
        const back = { x: -k * (x + turn * y), y: -k * (y - turn * x), turn: -turn, scale: k };
        return warped(picture, placed(picture, back), tops, sequence.pictures[index]);
      },
    };
  },
};

interface Placed {
  readonly x: number;
  readonly y: number;
  readonly turn: number;
  readonly scale: number;
}

/** Where a picture lies that is moved, turned and scaled about its middle. */
const placed = ({ planes: [{ width, height }] }: Picture, { x, y, turn, scale }: Placed): RowMap => {
  const [cx, cy] = [(width - 1) / 2, (height - 1) / 2];
  return (row, place) => {
    const v = row - cy;
    place.x = cx + x - scale * (cx + turn * v);
    place.y = cy + y + scale * (v - turn * cx);
    place.dx = scale;
    place.dy = scale * turn;
  };
};

/** Most that each plane's codes can be. */
export const topsOf = ({ clip, pictures: [first] }: Sequence): number[] =>
  first.planes.map((_, p) => planeScale(clip, p).top);

/** Codes of black, or of no colour, plane by plane. */
const blackOf = ({ clip, pictures: [first] }: Sequence): number[] =>
  first.planes.map((_, p) => planeScale(clip, p).black);
