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
  await page.getByRole('tab', { name: 'Evidence' }).waitFor();
};

/** The trials of a clip, at the one that is behind its step, with every setting of it there. */
const openTrial = async (page: Page, name: string, treatment: string): Promise<void> => {
  await openClip(page, name);
  await page.getByRole('tab', { name: 'Trials' }).click();
  await page.getByLabel('Treatment').selectOption(treatment);
  await page.getByText(/treated, exact pixels$/).waitFor();
  const strip = page.getByRole('group', { name: 'The same detail at each setting' });
  for (const detail of await strip.locator('canvas').all())
    await detail.and(page.locator('[data-shown]')).waitFor();
};

const lane = (page: Page, name: string): Promise<void> =>
  page.getByRole('group', { name: 'Defects' }).getByRole('button', { name }).click();

const only = process.argv.slice(3);
const openBatch = async (page: Page): Promise<void> => {
  await page.goto(address);
  await page.getByRole('link', { name: BATCH }).click();
  await page.getByText('TL2_014').first().waitFor();
};
const charts = (page: Page): Promise<void> => page.locator('.js-plotly-plot .main-svg').first().waitFor();

const VIEWS: Record<string, (page: Page) => Promise<void>> = {
  batches: async (page) => {
    await page.goto(address);
    await page.getByRole('link', { name: BATCH }).waitFor();
  },
  batch: async (page) => {
    await openBatch(page);
    await page.waitForLoadState('networkidle').catch(() => undefined);
  },
  contact: async (page) => {
    await openBatch(page);
    await page.keyboard.press('v');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('Shift+ArrowDown');
  },
  rolls: async (page) => {
    await openBatch(page);
    await page.getByLabel('Layout').selectOption('rolls');
    await page.getByText('Mean level').first().waitFor();
  },
  'clip-flicker': async (page) => {
    await openClip(page, 'TL2_014');
    await charts(page);
    await page.getByText('Rows against time').scrollIntoViewIfNeeded();
  },
  'clip-hot-pixels': async (page) => {
    await openClip(page, 'TL2_047');
    await page.getByRole('listbox').getByRole('option').nth(3).click();
  },
  'clip-shake': async (page) => {
    await openClip(page, 'TL2_018');
    await lane(page, 'Shake');
    await charts(page);
    await page.locator('svg circle').nth(20).waitFor(); // the tiles are followed
  },
  'clip-moire': async (page) => {
    await openClip(page, 'TL2_023');
    await lane(page, 'Moiré');
    await page.keyboard.press('w');
    await page.getByText(/^frame \d+, exact pixels$/).waitFor();
  },
  trial: async (page) => {
    await openTrial(page, 'TL2_031', 'reduceNoise');
    await charts(page);
  },
  'trial-steady': async (page) => {
    await openTrial(page, 'TL2_018', 'stabilise');
    await page.keyboard.press('Shift+G');
    await page.getByRole('button', { name: 'Split' }).click();
    await page.getByTestId('net').first().waitFor({ state: 'attached' });
    await charts(page);
  },
  recheck: async (page) => {
    await openClip(page, 'TL2_014');
    await page.keyboard.press('Alt+5');
    await page.getByTestId('recheck-verdict').waitFor();
    await page.getByRole('button', { name: 'Split' }).click();
    await page.getByRole('slider', { name: /^Split/ }).waitFor();
    await page.getByText(/^frame \d+ treated, exact pixels$/).waitFor();
  },
  'clip-banding': async (page) => {
    await openClip(page, 'TL2_049');
    await lane(page, 'Banding');
    await charts(page);
  },
  'clip-softness': async (page) => {
    await openClip(page, 'TL2_071');
    await page
      .getByLabel('Clip to look at beside this one')
      .selectOption({ label: 'TL2_014_engine_shed_lamps.mp4' });
    await page.keyboard.press('1');
    await charts(page);
  },
  'clip-patch': async (page) => {
    await openClip(page, 'TL2_031');
    await page.keyboard.press('b');
    await page.keyboard.press('p');
    await page.mouse.move(470, 150);
    await page.mouse.down();
    await page.mouse.move(600, 260, { steps: 4 });
    await page.mouse.up();
    await page.getByTestId('patch-reading').getByText('blue σ').waitFor();
  },
  plan: async (page) => {
    await openClip(page, 'TL2_034');
    await page.getByRole('tab', { name: /Plan/ }).click();
    await page.getByRole('link', { name: 'Decide on the plan' }).click();
    await page.getByText('Three sizes of plan').waitFor();
  },
  work: async (page) => {
    await openBatch(page);
    await page.getByRole('link', { name: 'Work list' }).click();
    await page.getByRole('columnheader', { name: 'Gain for effort' }).waitFor();
  },
  report: async (page) => {
    await openBatch(page);
    await page.getByRole('link', { name: 'Report' }).click();
    await page.getByLabel('Of').selectOption({ label: 'TL2_034_signal_box_lamps.mov' });
    await page.getByRole('region', { name: 'Page 1', exact: true }).waitFor();
    await page.waitForTimeout(2500); // the page is set
  },
  'spec-limits': async (page) => {
    await openBatch(page);
    await page.getByRole('link', { name: 'Limits' }).click();
    const fails = page.getByRole('slider', { name: 'Noise: fails above' });
    await fails.focus();
    for (let i = 0; i < 9; i++) await page.keyboard.press('Shift+ArrowRight');
  },
  truth: async (page) => {
    await openBatch(page);
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
  await page.waitForFunction(() => [...document.images].every((i) => i.complete && i.naturalWidth > 0));
  await page.waitForTimeout(800); // pictures and curves settle
  await page.screenshot({ path: join(FOLDER, `${name}.png`) });
  console.log(`${name}.png`);
}
await browser.close();
