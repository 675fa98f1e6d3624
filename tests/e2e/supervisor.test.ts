import { expect } from 'chai';
import { writeFile, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import type { Batch, Clip, DeliverySpec } from '@bevrin/contract';
import { openHouseBatch } from '../support/house-batch.js';
import { measurementWith } from '../support/measurement.js';
import { onPages } from '../support/pages.js';
import type { TestServer } from '../support/test-server.js';

/** Specs, plans and the work list, as a technician and a supervisor use them: by the keys. */
describe('limits, plans and the work list', function () {
  this.timeout(120_000);
  const open = onPages();
  let server: TestServer;
  let page: Page;
  let batch: Batch;
  let night: Clip;
  let folder = '';

  before(async () => {
    ({ server, page } = await open());
    folder = await mkdtemp(join(tmpdir(), 'bevrin-supervisor-'));
    const made = await server.send('POST', '/batches', { name: 'Reel 12', specId: 'house' });
    expect(made.status, 'an unknown spec is refused').to.equal(422);
    ({ batch, night } = await openHouseBatch(server));
    await server.seed(batch.id, 'A003 clean.mov', measurementWith());
  });
  after(() => rm(folder, { recursive: true, force: true }));

  it('shows what a moved limit does before it is saved, by the arrow keys', async () => {
    await page.goto(`${server.url}/batches/${batch.id}`);
    await page.getByRole('link', { name: 'Limits' }).click();
    const what = page.getByRole('region', { name: 'What this does to the batch' });
    await what.getByText('No clip changes its verdict.').waitFor();
    const fails = page.getByRole('slider', { name: 'Noise: fails above' });
    await fails.focus();
    for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowRight');
    await what.getByText('1 clip changes its verdict:').waitFor();
    await what.getByText('A002 grainy.mov').waitFor();
    expect(await page.getByLabel('Noise fails above').inputValue()).to.equal('2.16');
    // What is marginal at most has no line to fail at, and says so.
    await page.getByRole('slider', { name: 'Change of exposure: passes to' }).waitFor();
    expect(await page.getByRole('slider', { name: 'Change of exposure: fails above' }).count()).to.equal(0);
    await page.getByText('never').first().waitFor();
    expect(
      (await server.get<DeliverySpec[]>('/specs')).find((s) => s.id === 'house')!.version,
      'nothing is saved yet',
    ).to.equal(1);
    await page.getByRole('button', { name: 'Save as version 2' }).focus();
    await page.keyboard.press('Enter');
    await page.getByText('version 2', { exact: true }).waitFor();
    await what.getByText('No clip changes its verdict.').waitFor();
  });

  it('says what two versions set differently, and takes an old one up again', async () => {
    const versions = page.getByRole('region', { name: 'Versions' });
    await versions.getByRole('button', { name: 'Version 1' }).click();
    await versions.getByText('Noise, fails above: 2 → 2.16').waitFor();
    await versions.getByRole('button', { name: 'Take up version 1 again' }).click();
    await page.getByText('version 3', { exact: true }).waitFor();
    const [now] = (await server.get<DeliverySpec[]>('/specs')).filter((s) => s.id === 'house');
    expect(now.limits.find((l) => l.defect === 'noise')!.fail).to.equal(2);
  });

  it('says what is wrong with a spec file, and takes one that is right', async () => {
    await page.goto(`${server.url}/specs`);
    const wrong = join(folder, 'wrong.json');
    await writeFile(wrong, JSON.stringify({ schema: 'bevrin.spec/1', id: 'x' }));
    await page.getByLabel('Spec file').setInputFiles(wrong);
    await page.getByText('wrong.json: this is not a usable delivery spec: name').waitFor();
    const right = join(folder, 'right.json');
    const [hd] = (await server.get<DeliverySpec[]>('/specs')).filter((s) => s.id === 'broadcast-hd');
    await writeFile(right, JSON.stringify({ ...hd, id: 'regional', name: 'Regional', version: 1 }));
    await page.getByLabel('Spec file').setInputFiles(right);
    await page.getByRole('textbox', { name: 'Delivery spec' }).waitFor();
    expect(await page.getByRole('textbox', { name: 'Delivery spec' }).inputValue()).to.equal('Regional');
  });

  it('asks who decides, and warns with the reason when a rule of the order is broken', async () => {
    await page.goto(`${server.url}/batches/${batch.id}/clips/${night.id}/plan`);
    const step = page.getByRole('article', { name: 'Step 1: Deflicker' });
    await step.focus();
    await page.keyboard.press('Alt+ArrowDown');
    await page.getByText('Say who decides').waitFor();
    await page.getByLabel('Your name').fill('R. Hale');
    await step.focus();
    await page.keyboard.press('Alt+ArrowDown');
    await page.getByText('Reduce noise stands before Deflicker.').waitFor();
    await page.getByText('Averaging noise over time takes steady light for granted.').first().waitFor();
    await page.keyboard.press('Control+z');
    await page.getByRole('article', { name: 'Step 1: Deflicker' }).waitFor();
  });

  it('works the expectation out again when a setting is changed', async () => {
    const noise = page.getByRole('article', { name: 'Step 2: Reduce noise' });
    const frames = noise.getByLabel(/^frames each side/);
    await frames.fill('1');
    await frames.press('Enter');
    // A third of its power is left.
    await noise.getByText(/2\.1 % → 1\.21 %/).waitFor();
    await noise.getByText(/as proposed/).waitFor();
  });

  it('drops with a reason, waives with a reason, approves, and is frozen then', async () => {
    await page
      .getByRole('article', { name: 'Step 2: Reduce noise' })
      .getByRole('button', { name: 'Drop' })
      .click();
    await page.getByLabel('Why Reduce noise is not done').fill('The grade hides it.');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Take up again' }).waitFor();
    await page.getByRole('button', { name: 'Waive Noise' }).click();
    await page.getByLabel('Why Noise is waived').fill('Agreed with the director.');
    await page.keyboard.press('Enter');
    await page.getByText('Waived: Agreed with the director.', { exact: true }).waitFor();
    await page.getByLabel('Assigned to').fill('Mara');
    await page.keyboard.press('Enter');
    await page.getByText('Assigned to Mara.').waitFor();
    await page.getByRole('button', { name: 'Approve' }).click();
    await page.getByText('approved by').waitFor();
    expect(await page.getByRole('button', { name: 'Waive Flicker' }).isDisabled()).to.equal(true);
    await page.reload();
    await page.getByText('approved by').waitFor();
    expect(await page.getByRole('list').first().innerText()).to.contain('Deflicker');
  });

  it('lists the work of the batch, the most gain first, filtered by the address', async () => {
    await page.goto(`${server.url}/batches/${batch.id}/work`);
    const rows = page.getByRole('row');
    await rows.filter({ hasText: 'A002 grainy.mov' }).waitFor();
    expect(await rows.count()).to.equal(3);
    await page.getByLabel('Assigned to').selectOption('Mara');
    await rows.filter({ hasText: 'A002 grainy.mov' }).waitFor({ state: 'detached' });
    expect(page.url()).to.contain('assignee=Mara');
    await page.getByRole('link', { name: 'A001 night.mov' }).click();
    await page.getByText('approved by').waitFor();
  });
});
