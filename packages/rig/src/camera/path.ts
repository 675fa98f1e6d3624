import { seeded } from '../random.js';

/** Where the camera looks: shift in output pixels, turn in degrees, magnification. */
export interface Pose {
  readonly x: number;
  readonly y: number;
  readonly rotationDeg: number;
  readonly zoom: number;
}
export type CameraPath = (timeSec: number) => Pose;

export const lockedOff: CameraPath = () => ({ x: 0, y: 0, rotationDeg: 0, zoom: 1 });

export const panning =
  (pxPerSec: number, tiltPxPerSec = 0): CameraPath =>
  (t) => ({ x: pxPerSec * t, y: tiltPxPerSec * t, rotationDeg: 0, zoom: 1 });

/**
 * A hand: each axis a sum of many sinusoids between 1.5 and 9 Hz with falling amplitude and random phase.
 * @param rmsPx root mean square of the 2-D displacement, output pixels
 * @param rmsDeg root mean square of the rotation, degrees
 */
export const handHeld = (rmsPx: number, rmsDeg: number, seed: number): CameraPath => {
  const random = seeded(seed);
  const axis = (rms: number): ((t: number) => number) => {
    const waves = Array.from({ length: 14 }, () => {
      const hz = 1.5 * Math.pow(6, random());
      return { hz, phase: 2 * Math.PI * random(), amplitude: (0.5 + random()) / hz };
    });
    const power = waves.reduce((sum, w) => sum + (w.amplitude * w.amplitude) / 2, 0);
    const scale = rms / Math.sqrt(power);
    return (t) =>
      scale * waves.reduce((sum, w) => sum + w.amplitude * Math.sin(2 * Math.PI * w.hz * t + w.phase), 0);
  };
  const x = axis(rmsPx / Math.SQRT2);
  const y = axis(rmsPx / Math.SQRT2);
  const turn = axis(rmsDeg);
  return (t) => ({ x: x(t), y: y(t), rotationDeg: turn(t), zoom: 1 });
};

/** Magnification that grows or shrinks by this share a second, as a travelling camera or a zoom lens gives. */
export const zooming =
  (sharePerSec: number): CameraPath =>
  (t) => ({ x: 0, y: 0, rotationDeg: 0, zoom: 1 + sharePerSec * t });

/** A knock at each of these instants: out and back again within `forSec`. */
export const jolts =
  (atSec: readonly number[], px: number, forSec: number): CameraPath =>
  (t) => {
    const near = atSec.find((at) => Math.abs(t - at) < forSec / 2);
    const x = near === undefined ? 0 : px * Math.cos((Math.PI * (t - near)) / forSec) ** 2;
    return { x, y: 0.4 * x, rotationDeg: 0, zoom: 1 };
  };

export const combined =
  (...paths: CameraPath[]): CameraPath =>
  (t) =>
    paths
      .map((path) => path(t))
      .reduce((a, b) => ({
        x: a.x + b.x,
        y: a.y + b.y,
        rotationDeg: a.rotationDeg + b.rotationDeg,
        zoom: a.zoom * b.zoom,
      }));
