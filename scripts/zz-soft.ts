import { measureClip } from '@bevrin/media';
import { renderStudy, type StudyClip } from '@bevrin/rig';
const base = {
  width: 640,
  height: 360,
  frames: 16,
  noisePct: [0.7, 0.7, 0.7],
  codec: 'h264Lossless',
  camera: { handPx: 1.5 },
  shutter: 0.2,
} as const;
const only = process.argv.slice(2);
for (const study of ['foliage', 'wall', 'night', 'dusk'] as const)
  for (const [sig, noise] of [
    [0.5, 0.5],
    [0.8, 2],
    [1.2, 0.7],
    [2, 0.7],
    [3, 1],
    [4, 0.5],
    [2.5, 3],
  ] as const) {
    if (only.length && !only.includes(study)) continue;
    const clip: StudyClip = {
      ...base,
      study,
      seed: 11 + sig * 10,
      lensSigmaPx: sig,
      noisePct: [noise, noise, noise],
    };
    const { path } = await renderStudy(clip);
    let prof: Record<string, number> = {};
    const m = await measureClip(path, { profile: (p) => (prof = p) });
    const s = m.readings.softness;
    console.log(
      study.padEnd(8),
      sig,
      'noise',
      noise,
      s.state === 'measured'
        ? `${s.values.blurSigmaPx} ${Math.abs(s.values.blurSigmaPx - sig) <= 0.25 * sig + 0.2 ? 'ok' : 'BAD'} ${Math.abs(s.values.blurSigmaPx - sig) <= 0.1 * sig + 0.1 ? 'goal' : ''} conf ${s.confidence} scale ${s.values.effectiveScale} soft ${JSON.stringify(s.values.softFrames)}`
        : s.reason,
      'ms',
      (prof.softness / 16).toFixed(0),
    );
  }
