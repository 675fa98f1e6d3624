import { join, resolve } from 'node:path';
import type { Batch } from '@bevrin/contract';
import { measurementWith } from '../tests/support/measurement.js';
import { startTestServer } from '../tests/support/test-server.js';
import { startBrowser } from './setup/browser.js';
import { startPostgres } from './setup/postgres.js';
import { buildWeb } from './setup/web-build.js';

/** How quick a batch of five thousand clips is: `npm run bench:batch`. On a database of its own. */
const CLIPS = 5000;
const ROUNDS = 20;

const postgres = await startPostgres(join(resolve('var', 'bench'), 'postgres'), { careless: true });
await buildWeb();
process.env.TEST_DATABASE_URL = postgres.url;
const server = await startTestServer(resolve('apps/web/dist'));
const made = await server.send('POST', '/batches', { name: 'Seed', specId: 'broadcast-hd' });
const seed = await server.seed(
  (made.body as Batch).id,
  'seed.mov',
  measurementWith({ noise: { lumaPct: 3 } }),
);
const batch = (await server.send('POST', '/batches', { name: 'Library', specId: 'broadcast-hd' }))
  .body as Batch;
await server.multiply(seed.id, batch.id, CLIPS);

const median = (v: readonly number[]): number => [...v].sort((a, b) => a - b)[Math.floor(v.length / 2)];
const browser = await startBrowser();
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const from = performance.now();
await page.goto(`${server.url}/batches/${batch.id}`);
await page.getByRole('row').nth(5).waitFor();
console.log(`${CLIPS} clips, from the address to the list: ${(performance.now() - from).toFixed(0)} ms`);

const answers: number[] = [];
for (let i = 0; i < ROUNDS; i++)
  answers.push(
    await page.evaluate(
      async (verdict) => {
        const select = document.querySelector<HTMLSelectElement>('select[aria-label=Defect]')!;
        const before = document.querySelector('[role=search] [role=status]')?.textContent;
        const start = performance.now();
        const set = Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value')!.set!;
        set.call(select, verdict);
        select.dispatchEvent(new Event('change', { bubbles: true }));
        for (;;) {
          await new Promise(requestAnimationFrame);
          if (document.querySelector('[role=search] [role=status]')?.textContent !== before)
            return performance.now() - start;
        }
      },
      i % 2 === 0 ? 'noise' : '',
    ),
  );
console.log(
  `A filter answers: median ${median(answers).toFixed(0)} ms, worst ${Math.max(...answers).toFixed(0)} (bar 150 ms)`,
);

await page.evaluate(() => {
  const times: number[] = [];
  Object.assign(window, { frameTimes: times });
  void (async () => {
    let last = performance.now();
    for (;;) {
      const now = await new Promise<number>(requestAnimationFrame);
      times.push(now - last);
      last = now;
    }
  })();
});
await page.mouse.move(600, 600);
for (let i = 0; i < 80; i++) {
  await page.mouse.wheel(0, 240);
  await page.waitForTimeout(16);
}
const times = await page.evaluate(() => (window as unknown as { frameTimes: number[] }).frameTimes.slice(2));
console.log(
  `Scrolling: ${(1000 / (times.reduce((a, b) => a + b, 0) / times.length)).toFixed(0)} frames a second, ${times.filter((t) => t > 34).length} of ${times.length} frames later than 34 ms, worst ${Math.max(...times).toFixed(0)} ms`,
);
await browser.close();
await server.stop();
await postgres.stop();
