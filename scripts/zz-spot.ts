import { measureClip } from '@bevrin/media';
import { renderStudy, type StudyClip } from '@bevrin/rig';
const base = {
  width: 640,
  height: 360,
  frames: 50,
  noisePct: [0.7, 0.7, 0.7],
  codec: 'h264',
  shutter: 0.4,
  seed: 41,
} as const;
const spots = [
  { x: 200, y: 90, radiusPx: 9, density: 0.15 },
  { x: 430, y: 160, radiusPx: 14, density: 0.1 },
  { x: 520, y: 60, radiusPx: 7, density: -0.12 },
];
const specks = [5, 9, 14, 20, 21, 30, 38, 44].map((frame, i) => ({
  frame,
  x: 80 + i * 60,
  y: 60 + ((i * 37) % 240),
  radiusPx: 2 + (i % 3),
  level: i % 2 ? 0.02 : 0.8,
}));
const set: [string, StudyClip][] = [
  ['wall pan spots', { ...base, study: 'wall', camera: { panPx: 60, handPx: 1 }, spots }],
  ['foliage pan spots', { ...base, study: 'foliage', camera: { panPx: 60, handPx: 1 }, spots }],
  ['foliage pan clean', { ...base, study: 'foliage', camera: { panPx: 60, handPx: 1 } }],
  ['wall pan clean', { ...base, study: 'wall', camera: { panPx: 40, tiltPx: 10, handPx: 1 } }],
  ['wall specks', { ...base, study: 'wall', camera: { handPx: 2 }, specks }],
  ['foliage specks locked', { ...base, study: 'foliage', specks }],
  ['night specks', { ...base, study: 'night', camera: { handPx: 2 }, noisePct: [2, 2, 2], specks }],
  ['subject', { ...base, study: 'wall', camera: { handPx: 2 }, subject: { tall: 0.8, pxPerSec: 300 } }],
  ['foliage shaky', { ...base, study: 'foliage', camera: { handPx: 5, handDeg: 0.3 } }],
  ['flicker', { ...base, study: 'wall', camera: { handPx: 2 }, light: { pulseHz: 6.1, depth: 0.2 } }],
];
for (const [name, clip] of set) {
  if (process.argv[2] && !name.includes(process.argv[2])) continue;
  const { path } = await renderStudy(clip);
  let prof: Record<string, number> = {};
  const m = await measureClip(path, { profile: (p) => (prof = p) });
  const s = m.readings.hotPixels;
  if (s.state !== 'measured') {
    console.log(name, s.reason);
    continue;
  }
  console.log(
    name.padEnd(20),
    `pixels ${s.values.count} spots ${JSON.stringify(s.values.spots?.map((p) => [p.x, p.y, p.radiusPx, p.contrastPct, p.worstFrame]))} specks ${s.values.specks?.perFrame} ${JSON.stringify(s.values.specks?.frames.flatMap((f) => f.specks.map((p) => [f.frame, Math.round(p.x), Math.round(p.y), Math.round(p.areaPx)])).slice(0, 10))}`,
    'ms/f',
    (prof.hotPixels / 50).toFixed(1),
  );
}
