import { renderStudy } from '@bevrin/rig';
import { execSync } from 'node:child_process';
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
const b = await renderStudy({ ...base, aperture: 0.5, mosaic: true, cloth: { cyclesPerPx: 0.44 } });
execSync(
  `ffmpeg -v error -y -i ${a.path} -i ${b.path} -filter_complex "[0]select=eq(n\\,5)[x];[1]select=eq(n\\,5)[y];[x][y]vstack" -frames:v 1 /tmp/m.png`,
);
