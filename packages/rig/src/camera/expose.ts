import type { Scene } from '../scene/scene.js';
import type { CameraPath } from './path.js';
import { exposedLight, type Light } from './light.js';

export interface Exposure {
  readonly width: number;
  readonly height: number;
  readonly frameRate: number;
  /** Exposure time over the frame interval. */
  readonly shutter: number;
  /** Time from the first to the last row over the frame interval. */
  readonly readout: number;
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
  const { width, height, frameRate, shutter, readout, camera, light } = exposure;
  out.fill(0);
  const seconds = shutter / frameRate;
  for (let y = 0; y < height; y++) {
    const start = (frame + (readout * y) / height) / frameRate;
    const gain = exposedLight(light, start, seconds) / INSTANTS.length;
    for (let i = 0; i < INSTANTS.length; i++) {
      const t = start + ((i + 0.5) / INSTANTS.length) * seconds;
      addRow(scene, camera(t), t, width, height, y, INSTANTS[i], gain, out);
    }
  }
  return out;
};

interface RowPlan {
  rgba: Float32Array;
  texWidth: number;
  texHeight: number;
  u: number;
  v: number;
  du: number;
  dv: number;
}

const planRow = (
  scene: Scene,
  pose: ReturnType<CameraPath>,
  t: number,
  width: number,
  height: number,
  y: number,
  offset: { dx: number; dy: number },
): RowPlan[] => {
  const angle = (pose.rotationDeg * Math.PI) / 180;
  const cos = Math.cos(angle) / pose.zoom;
  const sin = Math.sin(angle) / pose.zoom;
  const px = 0.5 + offset.dx - width / 2;
  const py = y + 0.5 + offset.dy - height / 2;
  return scene.layers
    .map((layer) => {
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
    })
    .reverse();
};

/** About 30 operations for each sample that a plate covers; the nearest plate is tried first. */
const addRow = (
  scene: Scene,
  pose: ReturnType<CameraPath>,
  t: number,
  width: number,
  height: number,
  y: number,
  offset: { dx: number; dy: number },
  gain: number,
  out: Float32Array,
): void => {
  const rows = planRow(scene, pose, t, width, height, y, offset);
  let o = y * width * 3;
  for (let x = 0; x < width; x++, o += 3) {
    let clear = gain;
    for (let l = 0; l < rows.length && clear > 1e-5; l++) {
      const row = rows[l];
      const u = row.u + x * row.du;
      const v = row.v + x * row.dv;
      const iu = Math.floor(u);
      const iv = Math.floor(v);
      if (iu < 0 || iv < 0 || iu >= row.texWidth - 1 || iv >= row.texHeight - 1) continue;
      const fu = u - iu;
      const fv = v - iv;
      const a = (iv * row.texWidth + iu) * 4;
      const b = a + row.texWidth * 4;
      const w00 = (1 - fu) * (1 - fv) * clear;
      const w10 = fu * (1 - fv) * clear;
      const w01 = (1 - fu) * fv * clear;
      const w11 = fu * fv * clear;
      const p = row.rgba;
      out[o] += p[a] * w00 + p[a + 4] * w10 + p[b] * w01 + p[b + 4] * w11;
      out[o + 1] += p[a + 1] * w00 + p[a + 5] * w10 + p[b + 1] * w01 + p[b + 5] * w11;
      out[o + 2] += p[a + 2] * w00 + p[a + 6] * w10 + p[b + 2] * w01 + p[b + 6] * w11;
      clear -= p[a + 3] * w00 + p[a + 7] * w10 + p[b + 3] * w01 + p[b + 7] * w11;
    }
    out[o] += scene.ground[0] * clear;
    out[o + 1] += scene.ground[1] * clear;
    out[o + 2] += scene.ground[2] * clear;
  }
};
