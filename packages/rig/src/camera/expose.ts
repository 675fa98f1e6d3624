import type { Layer, Scene } from '../scene/scene.js';
import { loopsWithMemory } from './loops.js';
import type { CameraPath, Pose } from './path.js';
import { exposedLight, type Light } from './light.js';

export interface Exposure {
  readonly width: number;
  readonly height: number;
  readonly frameRate: number;
  /** Exposure time over the frame interval. */
  readonly shutter: number;
  /** Time from the first to the last row over the frame interval. */
  readonly readout: number;
  /** Side of a photosite's light-sensitive area, pixels: 1 averages all of the pixel, less lets fine detail alias. */
  readonly aperture?: number;
  readonly camera: CameraPath;
  readonly light: Light;
}

const loops = loopsWithMemory();

/** Instants per exposure; each looks at another quarter of the pixel, which also averages its area. */
const INSTANTS = [
  { dx: -0.25, dy: -0.25 },
  { dx: 0.25, dy: 0.25 },
  { dx: -0.25, dy: 0.25 },
  { dx: 0.25, dy: -0.25 },
];

/**
 * Exposes frames of one scene: every row has its own time, so read-out skew, bars of light and motion blur come out of
 * one mechanism.
 */
export class Exposer {
  /** Where each plate lies in the memory of the loops. */
  private readonly plates: readonly number[];
  private readonly clear: number;
  private readonly sums: number;
  private readonly rest: number;
  private readonly row: number;
  private readonly claim = {};

  constructor(
    private readonly scene: Scene,
    private readonly exposure: Exposure,
  ) {
    const { width } = exposure;
    const textures = scene.layers.map((l) => l.texture.rgba);
    loops.reserve(
      textures.reduce((n, t) => n + t.length, 10 * width),
      textures.length + 4,
    );
    this.plates = textures.map((t) => loops.put(t));
    this.clear = loops.room(width);
    this.sums = loops.room(4 * width);
    this.rest = loops.room(width);
    this.row = loops.room(4 * width);
    holder = this.claim;
  }

  /** Whether its plates are still in the memory: another exposer may have come since. */
  get holds(): boolean {
    return holder === this.claim;
  }

  /** @param out linear-light RGB, interleaved, `width × height × 3` */
  frame(frame: number, out: Float32Array): void {
    const { width, height, frameRate, shutter, readout, camera, light, aperture = 1 } = this.exposure;
    const seconds = shutter / frameRate;
    const [red, green, blue] = this.scene.ground;
    for (let y = 0; y < height; y++) {
      const start = (frame + (readout * y) / height) / frameRate;
      const gain = exposedLight(light, start, seconds) / INSTANTS.length;
      loops.fill(this.sums, 4 * width, 0);
      loops.fill(this.rest, width, 0);
      for (let i = 0; i < INSTANTS.length; i++) {
        const t = start + ((i + 0.5) / INSTANTS.length) * seconds;
        const offset = { dx: INSTANTS[i].dx * aperture, dy: INSTANTS[i].dy * aperture };
        loops.fill(this.clear, width, gain);
        this.layOver(camera(t), t, y, offset);
        loops.run.addTo(this.rest, this.clear, width);
      }
      loops.run.settleRow(this.sums, this.rest, red, green, blue, width, this.row);
      out.set(loops.view(this.row, 3 * width), y * width * 3);
    }
  }

  /** Lays the plates over one row, the nearest first; `clear` holds what still shines through at each pixel. */
  private layOver(pose: Pose, t: number, y: number, offset: { dx: number; dy: number }): void {
    const { width, height } = this.exposure;
    for (let l = this.scene.layers.length - 1; l >= 0; l--) {
      const layer = this.scene.layers[l];
      const { u, v, du, dv } = planRow(layer, pose, t, width, height, y, offset);
      const { texture } = layer;
      loops.run.addPlate(
        this.plates[l],
        texture.width,
        texture.height,
        u,
        v,
        du,
        dv,
        width,
        this.clear,
        this.sums,
      );
    }
  }
}

/** Whose plates are in the memory. */
let holder: object | null = null;

/** A plate along one row of the picture: the texel that its first pixel sees, and the step from pixel to pixel. */
interface RowPlan {
  readonly u: number;
  readonly v: number;
  readonly du: number;
  readonly dv: number;
}

const planRow = (
  layer: Layer,
  pose: Pose,
  t: number,
  width: number,
  height: number,
  y: number,
  offset: { dx: number; dy: number },
): RowPlan => {
  const angle = (pose.rotationDeg * Math.PI) / 180;
  const cos = Math.cos(angle) / pose.zoom;
  const sin = Math.sin(angle) / pose.zoom;
  const px = 0.5 + offset.dx - width / 2;
  const py = y + 0.5 + offset.dy - height / 2;
  const place = layer.place(t);
  const k = layer.texelsPerPixel;
  return {
    u: (cos * px - sin * py + pose.x * layer.parallax - place.x) * k + layer.texture.width / 2 - 0.5,
    v: (sin * px + cos * py + pose.y * layer.parallax - place.y) * k + layer.texture.height / 2 - 0.5,
    du: cos * k,
    dv: sin * k,
  };
};
