import type { Page } from 'playwright-core';
import { BATCH } from '@bevrin/rig';
import { startBrowser } from './setup/browser.js';

/** How quick the pages are, on a running demo: `npm run bench:pages -- http://127.0.0.1:4180`. */
const address = process.argv[2] ?? 'http://127.0.0.1:4180';
const ROUNDS = 20;
const POINTS_MS = 150;

const median = (values: readonly number[]): number =>
  [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];
const say = (what: string, values: readonly number[], unit: string, bar: string): void =>
  console.log(
    `${what}: median ${median(values).toFixed(0)} ${unit}, worst ${Math.max(...values).toFixed(0)} (${values.length} times; bar ${bar})`,
  );

const openBatch = async (page: Page): Promise<void> => {
  await page.goto(address);
  await page.getByRole('link', { name: BATCH }).click();
  await page.getByRole('row').nth(3).waitFor();
};

/** Milliseconds from a click on a clip to its first exact frame on the screen. */
const listToFrame = async (page: Page, n: number): Promise<number> => {
  await page.getByRole('row').nth(3).waitFor();
  await page.waitForTimeout(700);
  const links = page.locator('[role=row] a');
  const link = links.nth(n % (await links.count()));
  await link.scrollIntoViewIfNeeded();
  // A hand is over a clip for this long before it presses.
  await link.hover();
  await page.waitForTimeout(POINTS_MS);
  return link.evaluate(async (node) => {
    const from = performance.now();
    (node as HTMLElement).click();
    for (;;) {
      await new Promise(requestAnimationFrame);
      if (document.querySelector<HTMLElement>('canvas[data-frame="0"]')) {
        // A task that is posted from a frame runs when that frame has been painted.
        await new Promise((done) => {
          const { port1, port2 } = new MessageChannel();
          port1.onmessage = done;
          port2.postMessage(null);
        });
        return performance.now() - from;
      }
    }
  });
};

/** Milliseconds from stopping to the exact frame. */
const parking = async (page: Page): Promise<number> => {
  await page.keyboard.press('Home');
  await page.getByText(/^frame 0, exact pixels/).waitFor();
  await page.keyboard.press('Space');
  await page.waitForFunction(() => (document.querySelector('video')?.currentTime ?? 0) > 1.2);
  return page.evaluate(async () => {
    const from = performance.now();
    document.dispatchEvent(new KeyboardEvent('keydown', { key: ' ', code: 'Space', bubbles: true }));
    document.dispatchEvent(new KeyboardEvent('keyup', { key: ' ', code: 'Space', bubbles: true }));
    for (;;) {
      await new Promise(requestAnimationFrame);
      const status = [...document.querySelectorAll('p[role=status]')].map((p) => p.textContent ?? '');
      const exact = status.map((s) => /^frame (\d+), exact pixels(?! on)/.exec(s)?.[1]).find(Boolean);
      if (exact && document.querySelector(`canvas[data-frame="${exact}"]`)) return performance.now() - from;
    }
  });
};

/** Times between frames on the screen, ms, while the wheel turns and a hand drags. */
const moving = async (page: Page): Promise<number[]> => {
  await page.evaluate(() => {
    const times: number[] = [];
    let last = performance.now();
    Object.assign(window, { frameTimes: times });
    void (async () => {
      for (;;) {
        const now = await new Promise<number>(requestAnimationFrame);
        times.push(now - last);
        last = now;
      }
    })();
  });
  await page.mouse.move(420, 320);
  for (let i = 0; i < 40; i++) {
    await page.mouse.wheel(0, i < 20 ? -60 : 40);
    await page.waitForTimeout(16);
  }
  await page.mouse.down();
  for (let i = 0; i < 60; i++) {
    await page.mouse.move(420 + 3 * i * (i % 20 < 10 ? 1 : -1), 320 + i);
    await page.waitForTimeout(16);
  }
  await page.mouse.up();
  return page.evaluate(() => (window as unknown as { frameTimes: number[] }).frameTimes.slice(2));
};

const browser = await startBrowser();
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const opened: number[] = [];
await openBatch(page);
for (let i = 0; i < ROUNDS; i++) {
  opened.push(await listToFrame(page, i));
  if (process.env.VERBOSE) console.log(page.url().slice(-36), opened.at(-1)?.toFixed(0));
  await page.goBack();
}
say('From the list to the exact frame', opened, 'ms', '400 ms');

const parked: number[] = [];
await openBatch(page);
await page.getByRole('link', { name: /TL2_014/ }).click();
for (let i = 0; i < 10; i++) parked.push(await parking(page));
say('Parking after play', parked, 'ms', '300 ms');

const times = await moving(page);
const slow = times.filter((t) => t > 20.5).length;
console.log(
  `Zoom and pan: ${(1000 / (times.reduce((a, b) => a + b, 0) / times.length)).toFixed(0)} frames a second, ${slow} of ${times.length} frames later than 20 ms, worst ${Math.max(...times).toFixed(0)} ms (bar 50 a second)`,
);
await browser.close();
