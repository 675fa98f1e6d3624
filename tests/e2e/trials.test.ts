import { expect } from 'chai';
import { copyFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { Report, type Batch, type Clip, type ClipPlan, type ClipTrial } from '@bevrin/contract';
import { clipFile } from '../support/clips.js';
import { onPages } from '../support/pages.js';
import { textOfPdf } from '../support/pdf.js';
import type { TestServer } from '../support/test-server.js';
import { until } from '../support/until.js';

/** A repair that is tried: from the worst clip to the step of its plan. */
describe('a trial on its page', function () {
  this.timeout(180_000);
  const open = onPages();
  let server: TestServer;
  let page: Page;
  let batch: Batch;
  let noisy: Clip;

  before(async () => {
    ({ server, page } = await open());
    batch = (await server.send('POST', '/batches', { name: 'Reel 9', specId: 'broadcast-hd' })).body as Batch;
    await copyFile(await clipFile('noisy'), join(server.media, 'A001 noisy.mp4'));
    const { body } = await server.send('POST', `/batches/${batch.id}/clips`, { path: server.media });
    [noisy] = (body as { added: Clip[] }).added;
    await server.settled(noisy.id);
  });

  const trials = (): Promise<ClipTrial[]> => server.get<ClipTrial[]>(`/clips/${noisy.id}/trials`);
  const done = (count: number): Promise<void> =>
    until(async () => (await trials()).filter((t) => t.state === 'done').length >= count);
  /** Codes of a square in the middle of the picture on the screen. */
  const pixels = (): Promise<number[]> =>
    page.getByRole('img', { name: /^A001 noisy\.mp4, frame/ }).evaluate((node) => {
      const { width, height } = node as HTMLCanvasElement;
      const pen = (node as HTMLCanvasElement).getContext('2d')!;
      return [...pen.getImageData(width / 2 - 16, height / 2 - 16, 32, 32).data];
    });
  const differs = (a: readonly number[], b: readonly number[]): number =>
    a.reduce((sum, v, i) => sum + Math.abs(v - b[i]), 0) / a.length;

  it('is asked for on the sheet of the worst clip, runs, and shows its settings side by side', async () => {
    await page.goto(`${server.url}/batches/${batch.id}`);
    await page.getByRole('row').filter({ hasText: 'A001' }).waitFor();
    await page.keyboard.press('w');
    await page.getByText('frame 0, exact pixels', { exact: true }).waitFor();
    await page.keyboard.press('Alt+3');
    await page.getByRole('button', { name: 'Try it' }).first().click();
    await page.getByLabel('Treatment').selectOption('reduceNoise');
    await page.getByLabel('Your name').fill('R. Hale');
    await page.getByLabel(/values to compare/).fill('1, 2, 4');
    await page.getByRole('button', { name: 'Try', exact: true }).click();
    await page
      .getByTestId('trial-state')
      .first()
      .getByText(/^(waits|\d+ %)/)
      .waitFor();
    await done(1);
    await page.getByRole('table', { name: 'Settings that were tried' }).waitFor();
    // The server was asked whether the trial is done; the page hears of it a moment later.
    await page
      .getByTestId('trial-choice')
      .getByText(/^It brings noise from [\d.]+ to [\d.]+ %/)
      .waitFor();
    const strip = page.getByRole('group', { name: 'The same detail at each setting' });
    for (const detail of ['as it came', '1', '2', '4'])
      await strip.getByRole('button', { name: new RegExp(`^${detail}(, proposed)?, the detail$`) }).waitFor();
  });

  it('shows another picture at each setting, the untreated one while a key is held, and both along a line', async () => {
    await page.keyboard.press('1');
    const look = async (row: string): Promise<number[]> => {
      await page.getByRole('button', { name: `Look at frames each side ${row}` }).click();
      await page.getByTestId('trial-run').getByText(`frames each side ${row}`).waitFor();
      await page
        .getByRole('status')
        .getByText(/treated, exact pixels/)
        .waitFor();
      return pixels();
    };
    const [one, four] = [await look('1'), await look('4')];
    expect(differs(one, four)).to.be.greaterThan(0.5);
    await page.keyboard.down('q');
    await page
      .getByRole('status')
      .getByText(/^frame \d+, exact pixels/)
      .waitFor();
    const plain = await pixels();
    await page.keyboard.up('q');
    expect(differs(plain, four)).to.be.greaterThan(differs(one, four));
    await page.keyboard.press('Comma');
    await page.getByTestId('trial-run').getByText('frames each side 2').waitFor();
    await page.getByRole('button', { name: 'Taken ×8' }).click();
    await page
      .getByRole('status')
      .getByText(/treated, exact pixels/)
      .waitFor();
    const taken = await pixels();
    const mean = taken.filter((_, i) => i % 4 < 3).reduce((s, v) => s + v, 0) / (0.75 * taken.length);
    expect(mean, 'what was taken lies about a middle grey').to.be.closeTo(128, 8);
    await page.getByRole('button', { name: 'Split' }).click();
    await page
      .getByRole('slider', { name: /Split: as it came to the left, frames each side 2 to the right/ })
      .waitFor();
    await page.getByRole('button', { name: 'Above each other' }).click();
    await page.getByRole('img', { name: /as it came, frame/ }).waitFor();
    await page.getByRole('button', { name: 'Treated', exact: true }).click();
  });

  it('never says that the picture of one setting is that of another, however long that is on its way', async () => {
    const said = (what: RegExp): Promise<void> => page.getByRole('status').getByText(what).waitFor();
    await page.getByRole('button', { name: 'Look at frames each side 1' }).click();
    await said(/treated, exact pixels/);
    const ofSecond = '**/api/trials/*/runs/1/frames/*';
    let release = (): void => undefined;
    const held = new Promise<void>((go) => (release = go));
    await page.route(ofSecond, async (route) => {
      await held;
      await route.continue();
    });
    await page.keyboard.press('ArrowRight');
    await said(/treated, exact pixels/);
    const one = await pixels();
    await page.getByRole('button', { name: 'Look at frames each side 2' }).click();
    await page.getByTestId('trial-run').getByText('frames each side 2').waitFor();
    await said(/exact pixels on their way/);
    expect(differs(one, await pixels()), 'the one before stays until then').to.equal(0);
    release();
    await said(/treated, exact pixels/);
    expect(differs(one, await pixels())).to.be.greaterThan(0.3);
    await page.unroute(ofSecond);
  });

  it('sets two settings against each other, picture by picture', async () => {
    const two = await pixels();
    await page.getByLabel('Set against').selectOption({ label: 'frames each side 1' });
    await page.keyboard.down('q');
    await until(async () => differs(await pixels(), two) > 0.5);
    await page.keyboard.up('q');
    await page.getByRole('button', { name: 'Split' }).click();
    await page
      .getByRole('slider', { name: /Split: frames each side 1 to the left, frames each side 2 to the right/ })
      .waitFor();
    await page.getByLabel('Set against').selectOption({ label: 'as it came' });
    await page.getByRole('button', { name: 'Treated', exact: true }).click();
  });

  it('plays round and round between its frames', async () => {
    const { startFrame, endFrame } = (await trials())[0].trial!.range;
    await page.getByRole('button', { name: 'Play' }).click();
    const seen = new Set<number>();
    await until(async () => {
      const said = await page.getByRole('toolbar', { name: 'Frames' }).innerText();
      seen.add(Number(/frame\s+(\d+)/.exec(said)![1]));
      return seen.size > 5;
    });
    await page.keyboard.press('Space');
    for (const frame of seen) expect(frame).to.be.within(startFrame, endFrame);
  });

  it('puts a setting that is used into the plan, the sheet and the JSON, with the trial as evidence', async () => {
    await page.getByRole('button', { name: 'Look at frames each side 4' }).click();
    await page.getByRole('button', { name: 'Use this' }).click();
    await page
      .getByRole('button', { name: /frames each side 4.*in the plan/ })
      .or(page.getByRole('row').filter({ hasText: 'in the plan' }))
      .first()
      .waitFor();
    const { decided } = await server.get<ClipPlan>(`/clips/${noisy.id}/plan`);
    const step = decided.steps.find((s) => s.treatment === 'reduceNoise')!;
    expect(step.settings.framesEachSide).to.equal(4);
    expect(step.tried!.by).to.equal('person');
    await page.keyboard.press('d');
    await page.getByText('expected, as tried').first().waitFor();
    await page.getByText(/On frames \d+ to \d+\./).waitFor();
    const out = (file: string): Promise<Response> => fetch(`${server.url}/api/clips/${noisy.id}/out/${file}`);
    const report = Report.parse(await (await out('report.json')).json());
    expect(report.clips[0].plan.steps.find((s) => s.tried)!.tried!.run).to.equal(2);
    expect(await textOfPdf(await (await out('sheet.pdf')).arrayBuffer())).to.contain('Tried on frames');
    await page.goBack();
  });

  it('can be cancelled while it waits or runs', async () => {
    await page.keyboard.press('Alt+4');
    await page.getByLabel('Treatment').selectOption('reduceNoise');
    await page.getByLabel(/values to compare/).fill('1 2 3 4 5 6 7 8 9');
    await page.getByRole('button', { name: 'Try', exact: true }).click();
    await page.getByRole('button', { name: 'Cancel' }).click();
    await page.getByTestId('trial-state').first().getByText('cancelled').waitFor();
    expect((await trials()).at(-1)!.state).to.equal('cancelled');
  });

  it('says on the form what a setting may be', async () => {
    await page.getByLabel('frames each side', { exact: true }).fill('99');
    await page.getByRole('button', { name: 'Try', exact: true }).click();
    await page.getByRole('alert').getByText('frames each side: a figure from 0 to 9').waitFor();
  });
});
