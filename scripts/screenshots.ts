import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { BATCH } from '@bevrin/rig';
import { startBrowser } from './setup/browser.js';

/** Refreshes the pictures of the main views from a running demo: `npm run screenshots -- http://127.0.0.1:4180`. */
const address = process.argv[2] ?? 'http://127.0.0.1:4180';
const FOLDER = join('docs', 'screenshots');
const openClip = async (page: Page, name: string): Promise<void> => {
  await page.goto(address);
  await page.getByRole('link', { name: BATCH }).click();
  await page.getByRole('link', { name }).click();
  await page.getByText(/^frame 0, exact pixels$/).waitFor();
};

const lane = (page: Page, name: string): Promise<void> =>
  page.getByRole('group', { name: 'Defects' }).getByRole('button', { name }).click();

const only = process.argv.slice(3);
const VIEWS: Record<string, (page: Page) => Promise<void>> = {
  batches: async (page) => {
    await page.goto(address);
    await page.getByRole('link', { name: BATCH }).waitFor();
  },
  batch: async (page) => {
    await page.goto(address);
    await page.getByRole('link', { name: BATCH }).click();
    await page.getByText('TL2_014').waitFor();
    await page.waitForLoadState('networkidle').catch(() => undefined);
  },
  'clip-flicker': async (page) => {
    await openClip(page, 'TL2_014');
    await page.locator('.js-plotly-plot .main-svg').first().waitFor();
  },
  'clip-noise-plan': async (page) => {
    await openClip(page, 'TL2_031');
    await page.getByRole('tab', { name: /Plan/ }).click();
  },
  'clip-hot-pixels': async (page) => {
    await openClip(page, 'TL2_047');
    await page.getByRole('tab', { name: 'Facts and note' }).click();
  },
  'clip-shake': async (page) => {
    await openClip(page, 'TL2_018');
    await lane(page, 'Shake');
    await page.locator('.js-plotly-plot .main-svg').first().waitFor();
  },
  'clip-moire': async (page) => {
    await openClip(page, 'TL2_023');
    await lane(page, 'Moiré');
  },
  'clip-banding': async (page) => {
    await openClip(page, 'TL2_049');
    await lane(page, 'Banding');
    await page.locator('.js-plotly-plot .main-svg').first().waitFor();
  },
  'clip-softness': async (page) => {
    await openClip(page, 'TL2_041');
    await lane(page, 'Softness');
    await page.locator('.js-plotly-plot .main-svg').first().waitFor();
  },
  plan: async (page) => {
    await openClip(page, 'TL2_034');
    await page.getByRole('tab', { name: /Plan/ }).click();
    await page.getByRole('link', { name: 'Decide on the plan' }).click();
    await page.getByText('Three sizes of plan').waitFor();
  },
  work: async (page) => {
    await page.goto(address);
    await page.getByRole('link', { name: BATCH }).click();
    await page.getByRole('link', { name: 'Work list' }).click();
    await page.getByRole('columnheader', { name: 'Gain for effort' }).waitFor();
  },
  'spec-limits': async (page) => {
    await page.goto(address);
    await page.getByRole('link', { name: BATCH }).click();
    await page.getByRole('link', { name: 'Limits' }).click();
    const fails = page.getByRole('slider', { name: 'Noise: fails above' });
    await fails.focus();
    for (let i = 0; i < 9; i++) await page.keyboard.press('Shift+ArrowRight');
  },
  truth: async (page) => {
    await page.goto(address);
    await page.getByRole('link', { name: BATCH }).click();
    await page.getByRole('link', { name: 'Truth against reading' }).click();
    await page.getByRole('columnheader', { name: 'Off by' }).waitFor();
  },
};

await mkdir(FOLDER, { recursive: true });
const browser = await startBrowser();
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
for (const [name, show] of Object.entries(VIEWS)) {
  if (only.length > 0 && !only.includes(name)) continue;
  await show(page);
  await page.waitForTimeout(800); // pictures and curves settle
  await page.screenshot({ path: join(FOLDER, `${name}.png`) });
  console.log(`${name}.png`);
}
await browser.close();
