import { measureClip } from '@bevrin/media';
const t = performance.now();
const c0 = process.cpuUsage();
await measureClip('.cache/bench/noisy-1080p25.mp4', {
  profile: (s) =>
    console.log(JSON.stringify(Object.fromEntries(Object.entries(s).map(([k, v]) => [k, Math.round(v)])))),
});
const c = process.cpuUsage(c0);
console.log(
  ((performance.now() - t) / 1000).toFixed(2),
  'cpu',
  (c.user / 1e6).toFixed(1),
  (c.system / 1e6).toFixed(1),
);
