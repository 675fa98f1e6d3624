import { expect } from 'chai';
import type { Page } from 'playwright-core';
import type { Batch, Clip, ClipPlan } from '@bevrin/contract';
import { measurementWith } from '../support/measurement.js';
import { onPages } from '../support/pages.js';
import type { TestServer } from '../support/test-server.js';

/** A clip beside the others of its roll: in the list, on the strips, in its plan, and by the limits of its delivery. */
describe('a clip beside the others of its roll, on the pages', function () {
  this.timeout(120_000);
  const open = onPages();
  let server: TestServer;
  let page: Page;
  let batch: Batch;
  let clean: Clip;

  before(async () => {
    ({ server, page } = await open());
    const made = await server.send('POST', '/batches', { name: 'Reel 14', specId: 'broadcast-hd' });
    batch = made.body as Batch;
    for (const n of [1, 2, 3, 4])
      await server.seed(batch.id, `A014_C00${n}.mov`, measurementWith({ noise: { lumaPct: 0.8 } }));
    clean = await server.seed(batch.id, 'A014_C009.mov', measurementWith({ noise: { lumaPct: 0.3 } }));
  });

  it('says so in its row, and stands apart on the strips, where it is opened by the keys', async () => {
    await page.goto(`${server.url}/batches/${batch.id}`);
    const row = page.getByRole('row').filter({ hasText: 'A014_C009.mov' });
    await row.getByText('2.7 times cleaner than the other 4 of A014').waitFor();
    await page.getByLabel('Layout').selectOption('rolls');
    const roll = page.getByRole('region', { name: 'Roll A014' });
    await roll.getByText('median 0.8 %').waitFor();
    await roll.getByText('C009, 0.3 %').waitFor();
    const dots = roll.getByRole('link', { name: /: noise, luma/ });
    expect(await dots.count()).to.equal(5);
    const apart = roll.getByRole('link', { name: 'A014_C009.mov: noise, luma 0.3 %, marginal' });
    const [own, others] = await Promise.all(
      [apart, roll.getByRole('link', { name: 'A014_C001.mov: noise, luma 0.8 %' })].map((dot) =>
        dot.boundingBox(),
      ),
    );
    expect(others!.x - own!.x, 'it lies far from the others').to.be.greaterThan(300);
    await apart.focus();
    await page.keyboard.press('Enter');
    await page.waitForURL(`**/clips/${clean.id}`);
  });

  it('has what matches it added to its plan, with the grain that is missing', async () => {
    await page.goto(`${server.url}/batches/${batch.id}/clips/${clean.id}/plan`);
    const beside = page.getByRole('region', { name: 'Beside the other clips' });
    await beside.getByText(/^It is 2\.7 times cleaner than the other 4 of A014/).waitFor();
    await page.getByLabel('Your name').fill('R. Hale');
    const add = beside.getByRole('button', { name: /^Add “.+” to the plan$/ });
    await add.click();
    await add.waitFor({ state: 'detached' });
    const { decided } = await server.get<ClipPlan>(`/clips/${clean.id}/plan`);
    const grain = decided.steps.find((s) => s.treatment === 'grain')!;
    expect(grain.settings).to.include({ sharePct: 100, lumaPct: 0.74 });
    expect(grain.expect.to, 'it comes to the others').to.be.closeTo(0.8, 0.01);
    await page
      .getByText(/Match grain to the other 4 of A014/)
      .first()
      .waitFor();
  });

  it('is told no more once its delivery lets it pass', async () => {
    await page.goto(`${server.url}/specs/broadcast-hd`);
    const fails = page.getByLabel('Cleaner than the others, fails above');
    await fails.fill('2');
    await fails.press('Tab');
    expect(await fails.inputValue(), 'fail must lie beyond pass').to.equal('4');
    const passes = page.getByLabel('Cleaner than the others, at most');
    await passes.fill('3');
    await passes.press('Tab');
    await page.getByRole('button', { name: /^Save as version/ }).click();
    await page.getByText('version 4', { exact: true }).waitFor();
    await page.goto(`${server.url}/batches/${batch.id}`);
    const row = page.getByRole('row').filter({ hasText: 'A014_C009.mov' });
    await row.waitFor();
    await page.waitForTimeout(500);
    expect(await row.getByText(/times cleaner/).count()).to.equal(0);
  });
});
