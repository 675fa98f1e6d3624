import type { Layer, Scene } from '../scene/scene.js';
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

/** Instants per exposure; each looks at another quarter of the pixel, which also averages its area. */
const INSTANTS = [
  { dx: -0.25, dy: -0.25 },
  { dx: 0.25, dy: 0.25 },
  { dx: -0.25, dy: 0.25 },
  { dx: 0.25, dy: -0.25 },
];

/**
 * Exposes one frame: every row has its own time, so read-out skew, bars of light and motion blur come out of one
 * mechanism.
 * @returns linear-light RGB, interleaved, `width × height × 3`
 */
export const expose = (scene: Scene, exposure: Exposure, frame: number, out: Float32Array): Float32Array => {
  const { width, height, frameRate, shutter, readout, camera, light, aperture = 1 } = exposure;
  out.fill(0);
  const seconds = shutter / frameRate;
  const clear = new Float32Array(width);
  for (let y = 0; y < height; y++) {
    const start = (frame + (readout * y) / height) / frameRate;
    const gain = exposedLight(light, start, seconds) / INSTANTS.length;
    for (let i = 0; i < INSTANTS.length; i++) {
      const t = start + ((i + 0.5) / INSTANTS.length) * seconds;
      const offset = { dx: INSTANTS[i].dx * aperture, dy: INSTANTS[i].dy * aperture };
      addRow(scene, camera(t), t, width, height, y, offset, gain, clear, out);
    }
  }
  return out;
};

/** A plate along one row of the picture: the texel that its first pixel sees, and the step from pixel to pixel. */
interface RowPlan {
  readonly rgba: Float32Array;
  readonly texWidth: number;
  readonly texHeight: number;
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
    rgba: layer.texture.rgba,
    texWidth: layer.texture.width,
    texHeight: layer.texture.height,
    u: (cos * px - sin * py + pose.x * layer.parallax - place.x) * k + layer.texture.width / 2 - 0.5,
    v: (sin * px + cos * py + pose.y * layer.parallax - place.y) * k + layer.texture.height / 2 - 0.5,
    du: cos * k,
    dv: sin * k,
  };
};

/** Lays the plates over one row, the nearest first; `clear` holds what still shines through at each pixel. */
const addRow = (
  scene: Scene,
  pose: Pose,
  t: number,
  width: number,
  height: number,
  y: number,
  offset: { dx: number; dy: number },
  gain: number,
  clear: Float32Array,
  out: Float32Array,
): void => {
  clear.fill(gain);
  const start = y * width * 3;
  for (let l = scene.layers.length - 1; l >= 0; l--)
    addPlate(planRow(scene.layers[l], pose, t, width, height, y, offset), width, start, clear, out);
  const [red, green, blue] = scene.ground;
  for (let x = 0, o = start; x < width; x++, o += 3) {
    out[o] += red * clear[x];
    out[o + 1] += green * clear[x];
    out[o + 2] += blue * clear[x];
  }
};

/** About 30 operations for each pixel that the plate covers. */
const addPlate = (
  { rgba: p, texWidth, texHeight, u: firstU, v: firstV, du, dv }: RowPlan,
  width: number,
  start: number,
  clear: Float32Array,
  out: Float32Array,
): void => {
  const rightmost = texWidth - 1;
  const lowest = texHeight - 1;
  const below = texWidth * 4;
  let u = firstU;
  let v = firstV;
  for (let x = 0, o = start; x < width; x++, o += 3, u += du, v += dv) {
    const through = clear[x];
    if (through < 1e-5 || u < 0 || v < 0 || u >= rightmost || v >= lowest) continue;
    const iu = u | 0;
    const iv = v | 0;
    const fu = u - iu;
    const fv = v - iv;
    const a = (iv * texWidth + iu) * 4;
    const b = a + below;
    const w11 = fu * fv * through;
    const w10 = fu * through - w11;
    const w01 = fv * through - w11;
    const w00 = through - w11 - w10 - w01;
    out[o] += p[a] * w00 + p[a + 4] * w10 + p[b] * w01 + p[b + 4] * w11;
    out[o + 1] += p[a + 1] * w00 + p[a + 5] * w10 + p[b + 1] * w01 + p[b + 5] * w11;
    out[o + 2] += p[a + 2] * w00 + p[a + 6] * w10 + p[b + 2] * w01 + p[b + 6] * w11;
    clear[x] = through - (p[a + 3] * w00 + p[a + 7] * w10 + p[b + 3] * w01 + p[b + 7] * w11);
  }
};
