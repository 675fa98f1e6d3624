import { measureClip } from '@bevrin/media';
import { renderStudy, scatterFaults, type StudyClip } from '@bevrin/rig';
const base = { width: 640, height: 360, frames: 50, seed: 3 } as const;
const show = async (name: string, c: StudyClip) => {
  let t0 = performance.now();
  const { path, truth } = await renderStudy(c);
  const tr = performance.now() - t0; t0 = performance.now();
  let prof = {};
  const m = await measureClip(path, { profile: (p) => (prof = p) });
  const { noise: n, flicker: f, hotPixels: h } = m.readings;
  const r = (v: any) => typeof v === 'number' ? v.toFixed(3) : String(v);
  console.log(`== ${name} render ${tr.toFixed(0)}ms measure ${(performance.now() - t0).toFixed(0)}ms`, Object.entries(prof).map(([k, v]) => `${k}:${(v as number).toFixed(0)}`).join(' '), 'shots', m.shots.length);
  if (n.state === 'measured') for (const c of ['luma', 'cb', 'cr', 'red', 'green', 'blue'] as const) { const t = truth.noisePct[c]; const v = (n.values as any)[c + 'Pct']; process.stdout.write(`${c} ${r(t)}→${r(v)} (${t ? ((v / t - 1) * 100).toFixed(1) : '-'}%)  `); } else console.log(n.reason);
  if (n.state === 'measured') console.log(`\n  conf ${n.confidence} f/m/c ${n.values.fineShare} ${n.values.mediumShare} ${n.values.coarseShare} temporal ${n.values.temporalShare}`);
  if (f.state === 'measured') console.log(`  flicker ${f.values.pattern} depth ${r(f.values.depthPct)} rms ${r(f.values.rmsPct)} hz ${r(f.values.frequencyHz)} bars ${r(f.values.barsPerFrame)} conf ${f.confidence}`); else console.log(f.reason);
  if (h.state === 'measured') {
    const T = c.faults ?? []; const got = h.values.pixels;
    const hit = T.filter((t) => got.some((g) => Math.abs(g.x - t.x) <= 2 && Math.abs(g.y - t.y) <= 2)).length;
    const right = got.filter((g) => T.some((t) => Math.abs(g.x - t.x) <= 2 && Math.abs(g.y - t.y) <= 2)).length;
    console.log(`  hot truth ${T.length} found ${got.length} recall ${(hit / (T.length || 1)).toFixed(2)} precision ${(right / (got.length || 1)).toFixed(2)} conf ${h.confidence}`);
    if (process.argv[3]) for (const t of T) { const g = got.find((g) => Math.abs(g.x - t.x) <= 2 && Math.abs(g.y - t.y) <= 2); console.log('   ', JSON.stringify(t), g ? JSON.stringify(g) : 'MISSED'); if (process.argv[3]) for (const g of got) if (!T.some((t) => Math.abs(g.x - t.x) <= 2 && Math.abs(g.y - t.y) <= 2)) console.log('  FP', JSON.stringify(g)); }
  } else console.log(h.reason);
};
const clips: Record<string, StudyClip> = {
  foliage1: { ...base, study: 'foliage', camera: { handPx: 3, handDeg: 0.2 }, noisePct: [1, 1, 1] },
  foliage4: { ...base, study: 'foliage', camera: { handPx: 3, handDeg: 0.2 }, noisePct: [4, 4, 4] },
  foliageCoarse: { ...base, study: 'foliage', camera: { handPx: 3, handDeg: 0.2 }, noisePct: [2, 2, 2], grainSigmaPx: 1.3 },
  wall05: { ...base, study: 'wall', camera: { handPx: 2, handDeg: 0.2 }, noisePct: [0.5, 0.5, 0.5] },
  wallBlue: { ...base, study: 'wall', camera: { panPx: 30 }, noisePct: [1, 0.7, 3] },
  wallCoarse10: { ...base, study: 'wall', camera: { handPx: 2, handDeg: 0.2 }, noisePct: [2, 2, 2], grainSigmaPx: 2, format: { bitDepth: 10, chroma: '422' }, codec: 'ffv1' },
  night: { ...base, study: 'night', camera: { handPx: 2, handDeg: 0.2 }, noisePct: [2, 2, 2], shadowLift: 0.6 },
  clean: { ...base, study: 'foliage', camera: { handPx: 3, handDeg: 0.2 } },
  cleanLocked: { ...base, study: 'wall' },
  fixed: { ...base, study: 'wall', camera: { panPx: 60 }, noisePct: [1, 1, 1], fixedPatternPct: 1 },
  flick: { ...base, study: 'wall', frames: 100, camera: { handPx: 2 }, light: { pulseHz: 3.3, depth: 0.06 }, noisePct: [0.7, 0.7, 0.7] },
  bars: { ...base, study: 'foliage', frames: 100, camera: { handPx: 2 }, light: { pulseHz: 120, depth: 0.12 }, shutter: 0.1, readout: 0.7, noisePct: [0.7, 0.7, 0.7] },
  barsLocked: { ...base, study: 'wall', frames: 100, light: { pulseHz: 120, depth: 0.12 }, shutter: 0.1, readout: 0.7, noisePct: [0.7, 0.7, 0.7] },
  irregular: { ...base, study: 'wall', frames: 100, camera: { handPx: 2 }, light: { unsteady: 0.04 }, noisePct: [0.7, 0.7, 0.7] },
  subject: { ...base, study: 'wall', frames: 100, camera: { handPx: 2 }, subject: { tall: 1.2, pxPerSec: 240 }, noisePct: [0.7, 0.7, 0.7] },
  fade: { ...base, study: 'wall', frames: 100, camera: { handPx: 2 }, light: { fadeFromSec: 2.5, fadeToSec: 3.5 }, noisePct: [0.7, 0.7, 0.7] },
  flash: { ...base, study: 'wall', frames: 100, camera: { handPx: 2 }, light: { flashAtSec: 2 }, noisePct: [0.7, 0.7, 0.7] },
  cut: { ...base, study: 'wall', frames: 100, camera: { handPx: 2 }, cutTo: { study: 'night', atFrame: 50 }, noisePct: [0.7, 0.7, 0.7] },
  hot: { ...base, study: 'foliage', camera: { handPx: 3 }, noisePct: [1, 1, 1], faults: scatterFaults(24, 640, 360, 4) },
  hotNight: { ...base, study: 'night', camera: { handPx: 2 }, noisePct: [1.5, 1.5, 1.5], faults: scatterFaults(24, 640, 360, 5) },
  hotLocked: { ...base, study: 'wall', noisePct: [1, 1, 1], faults: scatterFaults(24, 640, 360, 6) },
  hotLockedFoliage: { ...base, study: 'foliage', noisePct: [1, 1, 1], faults: scatterFaults(24, 640, 360, 7) },
};
const want = process.argv[2];
for (const [name, c] of Object.entries(clips)) if (!want || want === 'all' || name.startsWith(want)) await show(name, c);
