import { measureClip } from '@bevrin/media';
let p: any;
const t = performance.now();
await measureClip('.cache/bench/noisy-1080p25.mp4', {
  overrides: { range: { startFrame: 0, endFrame: 149 } },
  profile: (s) => (p = s),
});
console.log(
  ((performance.now() - t) / 1000).toFixed(1),
  's',
  Object.entries(p)
    .map(([k, v]: any) => `${k} ${(v / 150).toFixed(1)}`)
    .join(' '),
);
