import { asLevel, smoothed, halve, withoutLocalMean, pyramid } from '../packages/core/src/picture/pyramid';
import { prepare, register } from '../packages/core/src/motion/register';
import { followTiles } from '../packages/core/src/motion/tiles';
import { cameraMotion } from '../packages/core/src/motion/camera';
import { ShotFinder } from '../packages/core/src/motion/shots';
import { RepeatFinder } from '../packages/core/src/motion/repeats';
import { barsOf } from '../packages/core/src/motion/bars';
const W = 480,
  H = 270;
const mk = (s: number) =>
  Uint16Array.from({ length: W * H }, (_, i) => {
    const x = (i % W) + s,
      y = Math.floor(i / W);
    return (
      20000 +
      8000 * Math.sin(x / 7) * Math.sin(y / 5) +
      4000 * Math.sin(x / 3.1 + y / 4.7) +
      3000 * Math.random()
    );
  });
const a = mk(0),
  b = mk(1.3);
const t = (n: string, f: () => void) => {
  for (let i = 0; i < 30; i++) f();
  const s = performance.now();
  for (let i = 0; i < 60; i++) f();
  console.log(n.padEnd(16), ((performance.now() - s) / 60).toFixed(2));
};
const A = asLevel({ width: W, height: H, samples: a }),
  B = asLevel({ width: W, height: H, samples: b });
const SA = smoothed(A),
  SB = smoothed(B);
const P = halve(A),
  Q = halve(B);
const PA = prepare(P),
  PB = prepare(Q);
t('asLevel', () => {
  asLevel({ width: W, height: H, samples: a });
});
t('smoothed', () => {
  smoothed(A);
});
t('halve', () => {
  halve(A);
});
t('withoutMean', () => {
  withoutLocalMean(P, 5);
});
t('prepare', () => {
  prepare(P);
});
t('register', () => {
  register(PA.slice(1), PB.slice(1));
});
const r = register(PA.slice(1), PB.slice(1))!;
const f = { ...r.motion, dx: r.motion.dx * 4, dy: r.motion.dy * 4 };
t('tiles', () => {
  followTiles(SA, SB, f, null, 4096);
});
const T = followTiles(SA, SB, f, null, 4096);
console.log(T.count);
t('camera', () => {
  cameraMotion(T, f, W, H);
});
const s = new ShotFinder(),
  rp = new RepeatFinder();
t('shots', () => s.take(P));
t('repeats', () => rp.take(A));
t('bars', () => {
  barsOf(A, 5000);
});
