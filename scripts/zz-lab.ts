import { slowCourse } from '../packages/core/src/maths/smooth.ts';
import { measureClip } from '@bevrin/media';
import { renderStudy, type StudyClip } from '@bevrin/rig';
const base = {
  width: 640,
  height: 360,
  frames: 60,
  noisePct: [0.7, 0.7, 0.7],
  codec: 'h264Lossless',
} as const;
const set: Record<string, StudyClip> = {
  locked: { ...base, study: 'wall', seed: 1 },
  lockedNoisy: { ...base, study: 'foliage', noisePct: [2.5, 2.5, 2.5], seed: 2 },
  hand04: { ...base, study: 'wall', seed: 3, camera: { handPx: 0.4, handDeg: 0.01 } },
  hand2: { ...base, study: 'foliage', seed: 4, camera: { handPx: 2, handDeg: 0.1 }, readout: 0.5 },
  hand6subj: {
    ...base,
    study: 'wall',
    seed: 5,
    camera: { handPx: 6, handDeg: 0.2 },
    subject: { tall: 1.2, pxPerSec: 240 },
    readout: 0.3,
  },
  hand12: {
    ...base,
    study: 'foliage',
    seed: 6,
    camera: { handPx: 12, handDeg: 0.4 },
    noisePct: [2, 2, 2],
    readout: 0.8,
  },
  panHand: {
    ...base,
    study: 'wall',
    seed: 7,
    camera: { handPx: 3, handDeg: 0.1, panPx: 60 },
    readout: 0.15,
    light: { pulseHz: 6.1, depth: 0.15 },
  },
  night: {
    ...base,
    study: 'night',
    seed: 8,
    camera: { handPx: 2.5, handDeg: 0.1 },
    noisePct: [1.5, 1.5, 1.5],
    readout: 0.6,
  },
  pan: { ...base, study: 'wall', seed: 9, camera: { panPx: 60 }, readout: 0.5 },
};
const only = process.argv.slice(2);
const rms = (v: number[]) => {
  const m = v.reduce((a, b) => a + b, 0) / v.length;
  return Math.sqrt(v.reduce((a, b) => a + (b - m) ** 2, 0) / v.length);
};
for (const [name, clip] of Object.entries(set)) {
  if (only.length && !only.includes(name)) continue;
  const { path, truth } = await renderStudy(clip);
  let prof: Record<string, number> = {};
  const m = await measureClip(path, { profile: (p) => (prof = p) });
  const pan = clip.camera?.panPx ?? 0;
  const T = Math.hypot(
    rms(truth.poses.map((p, f) => p.x - (pan * f) / 25)),
    rms(truth.poses.map((p) => p.y)),
  );
  const hp = (v: number[]) => {
    const c = slowCourse(v, 25, 0.7);
    return v.map((a, i) => a - c[i]);
  };
  const T2 = Math.hypot(rms(hp(truth.poses.map((p) => p.x))), rms(hp(truth.poses.map((p) => p.y))));
  const s = m.readings.shake,
    r = m.readings.rollingShutter;
  console.log(
    name.padEnd(12),
    'true',
    T.toFixed(3),
    'split',
    T2.toFixed(3),
    s.state === 'measured'
      ? `got ${s.values.jitterRmsPx.toFixed(3)} (${(100 * (s.values.jitterRmsPx / T - 1)).toFixed(1)}%) deg ${s.values.jitterRmsDeg} ${s.values.camera} crop ${s.values.cropPct} moving ${s.values.movingSubjectPct} Hz ${s.values.dominantHz} conf ${s.confidence}`
      : s.reason,
    '| readout',
    clip.readout,
    r.state === 'measured'
      ? `${r.values.readoutFraction} conf ${r.confidence} skew ${r.values.skewDeg} wob ${r.values.wobblePx}`
      : r.reason,
  );
  console.log(
    '   ',
    Object.entries(prof)
      .map(([k, v]) => `${k} ${(v / clip.frames).toFixed(1)}`)
      .join(' '),
    'ms/frame',
  );
}
