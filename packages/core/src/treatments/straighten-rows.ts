import { CameraPath } from './camera-path.js';
import type { Runner } from './runner.js';
import { numberOf } from './settings.js';
import { topsOf } from './stabilise.js';
import { meshOf, warped, type RowMap } from './warp.js';

/** Passes that find the time at which a row was read whose own place depends on it. */
const PASSES = 2;

/** Rows are moved to where they were when the middle one was read, along the camera's path as it was measured. */
export const straightenRows: Runner = {
  treatment: 'straightenRows',
  settings: {
    readoutPctOfFrame: { kind: 'number', unit: '%', least: 0, most: 100, step: 1, otherwise: 50 },
    readoutMs: { kind: 'number', unit: 'ms', least: 0, most: 1000, step: 0.1, otherwise: 0 },
    rowTimeUs: { kind: 'number', unit: 'µs', least: 0, most: 10_000, step: 0.1, otherwise: 0 },
  },
  swept: 'readoutPctOfFrame',
  sweepAbout: (value) => [0.5, 0.8, 1, 1.1].map((k) => Math.min(100, Math.round(10 * k * value) / 10)),
  judgedOverFrames: 40,
  neighbours: () => 0,
  begin: (study, settings, measurement) => {
    const { sequence } = study;
    const share = numberOf(settings, 'readoutPctOfFrame') / 100;
    const path = CameraPath.of(measurement, share);
    const tops = topsOf(sequence);
    const { height } = sequence.pictures[0].planes[0];
    const when = (row: number): number => Math.max(-1, Math.min(1, ((row + 0.5) / height - 0.5) * share));
    const rows =
      (index: number, way: 1 | -1): RowMap =>
      (row, place) => {
        const frame = sequence.firstFrame + index;
        // Backwards, the row of the picture as it came is known.
        let moved = path?.moved(frame, when(row)) ?? { x: 0, y: 0 };
        if (way === 1)
          for (let pass = 0; pass < PASSES && path; pass++) moved = path.moved(frame, when(row + moved.y));
        place.x = way * moved.x;
        place.y = row + way * moved.y;
        place.dx = 1;
        place.dy = 0;
      };
    return {
      treat: (index) => warped(sequence.pictures[index], rows(index, 1), tops, 'edge'),
      mesh: (index) => meshOf(sequence.pictures[index], rows(index, 1)),
      undo: (index, picture) => warped(picture, rows(index, -1), tops, sequence.pictures[index]),
    };
  },
};
