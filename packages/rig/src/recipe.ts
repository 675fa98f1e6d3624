import type { Sharpening } from './camera/sharpen.js';
import type { LensSpot, Speck } from './camera/dirt.js';
import type { LensShape } from './camera/lens.js';
import type { CameraPath } from './camera/path.js';
import type { Light } from './camera/light.js';
import type { PictureFormat } from './camera/format.js';
import type { Sensor } from './camera/sensor.js';
import type { Scene } from './scene/scene.js';

/** A shot of the clip: from `startFrame` on, until the next one starts. */
export interface ShotRecipe {
  readonly startFrame: number;
  /** Frames in which the shot before it dissolves into it; it is cut to where there are none. */
  readonly dissolve?: number;
  readonly scene: Scene;
  readonly camera: CameraPath;
}

/** All that is needed to draw a clip, and all that is true of it. */
export interface ClipRecipe {
  readonly width: number;
  readonly height: number;
  readonly frameRate: `${number}/${number}`;
  readonly frames: number;
  readonly shots: readonly ShotRecipe[];
  readonly shutter: number;
  readonly readout: number;
  readonly light: Light;
  /** Blur of the lens: standard deviation in pixels, at each frame. */
  readonly lensSigmaPx: number | ((frame: number) => number);
  readonly lensShape?: LensShape;
  readonly aperture?: number;
  /** Whether each photosite sees one colour only, and the others are made up from its neighbours. */
  readonly mosaic?: boolean;
  /** Soft dirt on the lens. */
  readonly spots?: readonly LensSpot[];
  /** Things that live one frame. */
  readonly specks?: readonly Speck[];
  /** How edges were made to look crisp. */
  readonly sharpened?: Sharpening;
  /** Bits to which the signal is coarsened before it is stored. */
  readonly signalBits?: number;
  /** Rows of black above and below the picture. */
  readonly barRows?: number;
  /** Every so many frames, the frame before is shown again. */
  readonly repeatEvery?: number;
  /** Before each of these frames, one was lost. */
  readonly dropBefore?: readonly number[];
  readonly sensor: Sensor;
  readonly format: PictureFormat;
  readonly seed: number;
}
