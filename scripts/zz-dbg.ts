import { renderStudy } from '@bevrin/rig';
import { measureClip } from '@bevrin/media';
const base = {
  width: 640,
  height: 360,
  frames: 30,
  noisePct: [0.5, 0.5, 0.5],
  codec: 'h264',
  camera: { handPx: 2 },
  shutter: 0.2,
  lensSigmaPx: 0.35,
  study: 'cloth',
  seed: 31,
} as const;
const a = await renderStudy({ ...base, aperture: 0.3, cloth: { cyclesPerPx: 0.94 } });
const m = await measureClip(a.path);
const s = m.readings.shake;
if (s.state !== 'measured') throw s.reason;
const X = s.series.jitterX.map((v, i) => v! + s.series.intendedX[i]!),
  Y = s.series.jitterY.map((v, i) => v! + s.series.intendedY[i]!);
for (let i = 1; i < 12; i++)
  console.log(
    (X[i] - X[i - 1]).toFixed(2),
    (-a.truth.poses[i].x + a.truth.poses[i - 1].x).toFixed(2),
    (Y[i] - Y[i - 1]).toFixed(2),
    (-a.truth.poses[i].y + a.truth.poses[i - 1].y).toFixed(2),
  );
console.log(s.values.movingSubjectPct);
