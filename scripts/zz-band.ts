import { measureClip } from '@bevrin/media';
import { renderStudy, type StudyClip } from '@bevrin/rig';
const base = {
  width: 640,
  height: 360,
  frames: 8,
  noisePct: [0.1, 0.1, 0.1],
  codec: 'h264',
  camera: { handPx: 1.5 },
} as const;
const ten = { format: { bitDepth: 10, chroma: '422' }, codec: 'prores' } as const;
const set: [string, StudyClip][] = [];
for (const study of ['dusk', 'wall', 'night', 'foliage'] as const)
  for (const bits of [0, 8, 7, 6, 5])
    set.push([
      `${study} bits ${bits}`,
      {
        ...base,
        study,
        seed: 21,
        noisePct: [bits ? 0.03 : 0.4, bits ? 0.03 : 0.4, bits ? 0.03 : 0.4],
        ...(bits ? { signalBits: bits } : {}),
      },
    ]);
set.push(['dusk 10bit clean', { ...base, ...ten, study: 'dusk', seed: 22, noisePct: [0, 0, 0] }]);
set.push(['dusk 8bit no noise', { ...base, study: 'dusk', seed: 22, noisePct: [0, 0, 0] }]);
set.push(['dusk 10bit 6', { ...base, ...ten, study: 'dusk', seed: 22, noisePct: [0, 0, 0], signalBits: 6 }]);
set.push([
  'dusk 10bit 8 ffv1',
  { ...base, ...ten, codec: 'ffv1', study: 'dusk', seed: 22, noisePct: [0.2, 0.2, 0.2], signalBits: 8 },
]);
set.push(['dusk dither 6', { ...base, study: 'dusk', seed: 22, noisePct: [1, 1, 1], signalBits: 6 }]);
set.push(['dusk noise 1', { ...base, study: 'dusk', seed: 22, noisePct: [1, 1, 1] }]);
for (const [name, clip] of set) {
  const { path } = await renderStudy(clip);
  let prof: Record<string, number> = {};
  const m = await measureClip(path, { profile: (p) => (prof = p) });
  const s = m.readings.banding;
  console.log(
    name.padEnd(20),
    s.state === 'measured'
      ? `area ${s.values.areaPct} step ${s.values.stepPct} index ${s.values.index} bits ${s.values.effectiveBits} regions ${s.regions.length}`
      : s.reason,
    'ms',
    (prof.banding / 4).toFixed(0),
  );
}
