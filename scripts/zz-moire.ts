import { measureClip } from '@bevrin/media';
import { renderStudy, type StudyClip } from '@bevrin/rig';
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
const set: [string, StudyClip][] = [
  ['resolved .2', { ...base, cloth: { cyclesPerPx: 0.2 } }],
  ['resolved .3 coloured', { ...base, cloth: { cyclesPerPx: 0.12, coloured: true } }],
  ['alias .94', { ...base, aperture: 0.3, cloth: { cyclesPerPx: 0.94 } }],
  ['alias .85', { ...base, aperture: 0.3, cloth: { cyclesPerPx: 0.85 } }],
  ['alias .94 pan', { ...base, aperture: 0.3, cloth: { cyclesPerPx: 0.94 }, camera: { panPx: 30 } }],
  ['alias .94 locked', { ...base, aperture: 0.3, cloth: { cyclesPerPx: 0.94 }, camera: {} }],
  ['mosaic .44', { ...base, aperture: 0.5, mosaic: true, cloth: { cyclesPerPx: 0.44 } }],
  ['mosaic .55', { ...base, aperture: 0.5, mosaic: true, cloth: { cyclesPerPx: 0.55 } }],
  ['mosaic .2', { ...base, aperture: 1, mosaic: true, cloth: { cyclesPerPx: 0.2 } }],
  ['wall', { ...base, study: 'wall' }],
  ['foliage', { ...base, study: 'foliage' }],
  ['night', { ...base, study: 'night', noisePct: [3, 3, 3] }],
];
for (const [name, clip] of set) {
  if (process.argv[2] && !name.includes(process.argv[2])) continue;
  const { path } = await renderStudy(clip);
  let prof: Record<string, number> = {};
  const m = await measureClip(path, { profile: (p) => (prof = p) });
  const s = m.readings.moire;
  console.log(
    name.padEnd(20),
    s.state === 'measured'
      ? `area ${s.values.areaPct} index ${s.values.index} conf ${s.confidence} ${JSON.stringify(s.values.patterns.slice(0, 3).map((p) => [p.x, p.y, p.width, p.height, p.periodPx, p.kind, p.crawlPxPerFrame, p.strength]))}`
      : s.reason,
    'ms',
    prof.moire.toFixed(0),
  );
}
