import { expect } from 'chai';
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { onPages } from '../support/pages.js';

/** What people see of the machine behind the pages. */
describe('the pages of a server', function () {
  this.timeout(60_000);
  let free = 50e9;
  const open = onPages({}, { freeBytes: () => Promise.resolve(free) });

  it('say everywhere that the disk is nearly full, until it is not', async () => {
    const { server, page } = await open();
    const notice = page.getByRole('alert').getByText('The server’s disk is nearly full.');
    await page.goto(server.url);
    await page.getByText('There is no batch yet').waitFor();
    expect(await notice.count()).to.equal(0);
    free = 120e6;
    await notice.waitFor();
    await page.getByText('120 MB are free; 500 MB are kept for decisions').waitFor();
    await page.getByRole('link', { name: 'Delivery specs' }).click();
    await page.getByRole('heading', { name: 'Delivery specs' }).waitFor();
    await notice.waitFor();
    free = 50e9;
    await notice.waitFor({ state: 'detached' });

    const uploads = join(server.media, '..', 'store', 'uploads');
    await mkdir(uploads, { recursive: true });
    await writeFile(join(uploads, 'left'), 'x'.repeat(3_000_000));
    await page.getByRole('link', { name: 'Bevrin' }).click();
    const left = page.getByRole('region', { name: 'Files that belong to no clip' });
    await left.getByText('3.0 MB').waitFor();
    await left.getByRole('button', { name: 'Remove the file' }).click();
    await left.waitFor({ state: 'detached' });
  });
});
