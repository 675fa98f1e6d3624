import { studyRecipe, renderFrames } from '@bevrin/rig';
const r = studyRecipe({
  study: 'foliage',
  width: 640,
  height: 360,
  frames: 12,
  camera: { handPx: 3, handDeg: 0.1 },
  noisePct: [1, 1, 1],
  readout: 0.3,
  seed: 3,
});
const t = performance.now();
let n = 0;
for (const f of renderFrames(r)) n += f[0];
console.log((performance.now() - t) / 12, 'ms/frame');
