import { expect } from 'chai';
import type { Page } from 'playwright-core';
import type { ClipPlan } from '@bevrin/contract';
import { openHouseBatch } from '../support/house-batch.js';
import { onPages, tabOn } from '../support/pages.js';
import type { TestServer } from '../support/test-server.js';

/** From the list of batches to the report without a pointer, not once. */
describe('without a pointer', function () {
  this.timeout(180_000);
  const open = onPages();
  let server: TestServer;
  let page: Page;
  let nightId = '';

  before(async () => {
    ({ server, page } = await open());
    nightId = (await openHouseBatch(server)).night.id;
  });

  const tabTo = (name: RegExp): Promise<void> => tabOn(page, name);
  const press = async (...keys: string[]): Promise<void> => {
    for (const key of keys) await page.keyboard.press(key);
  };

  it('moves a limit, sees what it does, and saves it', async () => {
    await page.goto(server.url);
    await page.getByText('Reel 12').waitFor();
    await tabTo(/^Reel 12$/);
    await press('Enter');
    await page.getByRole('row').filter({ hasText: 'A001' }).waitFor();
    await press('Shift+L');
    await page.getByText('No clip changes its verdict.').waitFor();
    await tabTo(/^Noise: fails above$/);
    await press('ArrowRight', 'ArrowRight', 'ArrowRight', 'ArrowRight');
    await page.getByText('1 clip changes its verdict:').waitFor();
    await tabTo(/^Save as version 2$/);
    await press('Enter');
    await page.getByText('version 2', { exact: true }).waitFor();
  });

  it('opens the worst clip and goes from finding to finding', async () => {
    await press('Alt+b');
    await page.getByRole('heading', { name: 'Batches' }).waitFor();
    await tabTo(/^Reel 12$/);
    await press('Enter');
    await page.getByRole('row').filter({ hasText: 'A001' }).waitFor();
    await press('ArrowDown', 'Enter');
    await page.getByText(/^Flicker of 6 % is above the fail limit/).waitFor();
    await press('n');
    await page.getByText(/^Noise of 2\.1 %/).waitFor();
  });

  it('decides on the plan, and approves it', async () => {
    await press('d');
    await page.getByRole('heading', { name: 'Repair plan' }).waitFor();
    await tabTo(/Your name/);
    await page.keyboard.type('R. Hale');
    await tabTo(/^Step 1: Deflicker/);
    await press('Alt+ArrowDown');
    await page.getByText('Reduce noise stands before Deflicker.').waitFor();
    await press('Control+z');
    await page.getByRole('article', { name: 'Step 1: Deflicker' }).waitFor();
    await tabTo(/^Waive Noise$/);
    await press('Enter');
    await page.getByLabel('Why Noise is waived').waitFor();
    await page.keyboard.type('Agreed with the director.');
    await press('Enter');
    await page.getByText('Waived: Agreed with the director.', { exact: true }).waitFor();
    await press('Control+Enter');
    await page.getByText('approved by').waitFor();
    const { decided } = await server.get<ClipPlan>(`/clips/${nightId}/plan`);
    expect(decided.approved?.who).to.equal('R. Hale');
    expect(decided.waived.map((w) => w.defect)).to.deep.equal(['noise']);
  });

  it('looks at the work list, and at the report as it prints', async () => {
    await press('Shift+W');
    await page.getByRole('row').filter({ hasText: 'A002 grainy.mov' }).waitFor();
    await press('Escape');
    await page.getByRole('row').filter({ hasText: 'A001' }).waitFor();
    await press('Shift+R');
    const text = page.getByRole('region', { name: 'Page 1', exact: true });
    await text.getByText(/A001 night\.mov/).waitFor({ state: 'attached' });
    // A key that comes while the pages of the report are drawn is lost: it is pressed again.
    const second = text.getByText(/A002 grainy\.mov/);
    for (let tries = 0; tries < 40 && !(/clip=/.test(page.url()) && (await second.count()) > 0); tries++) {
      await press('ArrowDown');
      await page.waitForTimeout(1000);
    }
    await text.getByText(/A002 grainy\.mov/).waitFor({ state: 'attached' });
    expect(await text.innerText()).to.contain('Reduce noise');
  });
});
