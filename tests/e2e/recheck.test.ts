import { expect } from 'chai';
import { copyFile, mkdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { Recheck, type Batch, type Clip, type ClipPlan, type ClipRecheck } from '@bevrin/contract';
import { Bench } from '../recheck/pairs.js';
import { clipFile } from '../support/clips.js';
import { onPages, tabOn } from '../support/pages.js';
import { textOfPdf } from '../support/pdf.js';
import type { TestServer } from '../support/test-server.js';
import { inLongRuns } from '../support/share.js';
import { until } from '../support/until.js';

/** A repaired file comes back, goes back, comes again and is signed off. */
describe('a repaired file on its page', function () {
  this.timeout(240_000);
  const open = onPages();
  let server: TestServer;
  let page: Page;
  let bench: Bench;
  let batch: Batch;
  let noisy: Clip;
  let smeared = '';
  let averaged = '';
  /** Its beginning, for what is not about its recheck. */
  let part = '';

  before(async () => {
    bench = await Bench.open();
    ({ server, page } = await open());
    batch = (await server.send('POST', '/batches', { name: 'Reel 11', specId: 'broadcast-hd' }))
      .body as Batch;
    const original = join(server.media, 'A002 noisy.mp4');
    await copyFile(await clipFile('noisy'), original);
    const { body } = await server.send('POST', `/batches/${batch.id}/clips`, { path: original });
    [noisy] = (body as { added: Clip[] }).added;
    await server.settled(noisy.id);
    averaged = await bench.treated(original, 'reduceNoise', {
      framesEachSide: 3,
      lumaStrengthPct: 9,
      chromaStrengthPct: 8,
      spatialStrengthPct: 20,
    });
    part = bench.filtered(averaged, 'trim=end_frame=10');
    smeared = join(server.media, 'A002 noisy smeared.mkv');
    await copyFile(bench.filtered(original, 'gblur=sigma=2'), smeared);
  });
  after(() => bench.close());

  const returned = (): Promise<ClipRecheck[]> => server.get<ClipRecheck[]>(`/clips/${noisy.id}/rechecks`);
  const proved = (count: number): Promise<void> =>
    until(async () => (await returned()).filter((r) => r.state === 'done').length >= count);
  const pixels = (): Promise<number[]> =>
    page.getByRole('img', { name: /^A002 noisy\.mp4, frame/ }).evaluate((node) => {
      const { width, height } = node as HTMLCanvasElement;
      const pen = (node as HTMLCanvasElement).getContext('2d')!;
      return [...pen.getImageData(width / 2 - 16, height / 2 - 16, 32, 32).data];
    });
  const differs = (a: readonly number[], b: readonly number[]): number =>
    a.reduce((sum, v, i) => sum + Math.abs(v - b[i]), 0) / a.length;

  it('is returned by its path, proved, and says why it must go back', async () => {
    await page.goto(`${server.url}/batches/${batch.id}/clips/${noisy.id}`);
    await page.getByText('frame 0, exact pixels', { exact: true }).waitFor();
    await page.keyboard.press('Alt+5');
    await page.getByText('Nothing has come back yet').waitFor();
    await page.getByLabel('Your name').fill('R. Hale');
    await page.getByLabel('Return a repaired file').fill(smeared);
    await page.getByRole('button', { name: 'Return it' }).click();
    await proved(1);
    await page.getByTestId('recheck-verdict').getByText('send back').waitFor();
    await page
      .getByText(/Fine detail is gone: [\d.]+ % are left/)
      .first()
      .waitFor();
    const rows = page.getByRole('table', { name: 'Readings before and after' });
    await rows.getByRole('row').filter({ hasText: 'Noise' }).first().waitFor();
    await page.getByRole('table', { name: 'What the repair harmed' }).waitFor();
    // Both stand on one ruler: the original filled, the repaired file as a line, with both figures.
    const time = page.getByRole('region', { name: 'Time' });
    await time.getByText('filled: the original; thick line: version 2').waitFor();
    await time.getByRole('button', { name: /^Soft [\d.]+ px → [\d.]+$/ }).waitFor();
    await page.keyboard.press('Alt+1');
    await time.getByText('filled: the original').waitFor({ state: 'detached' });
    await page.keyboard.press('Alt+5');
  });

  it('is looked at over the original: repaired, as it came while a key is held, and what was taken', async () => {
    await page.getByRole('button', { name: /^fine detail kept, worst at frame \d+$/ }).click();
    await page
      .getByRole('status')
      .getByText(/treated, exact pixels/)
      .waitFor();
    await page.waitForTimeout(300);
    const repaired = await pixels();
    await page.keyboard.down('q');
    await page
      .getByRole('status')
      .getByText(/^frame \d+, exact pixels/)
      .waitFor();
    await page.waitForTimeout(200);
    const original = await pixels();
    await page.keyboard.up('q');
    expect(differs(repaired, original)).to.be.greaterThan(1);
    await page
      .getByRole('toolbar', { name: 'Recheck' })
      .getByRole('button', { name: /^Taken/ })
      .click();
    await until(async () => differs(await pixels(), repaired) > 1);
    await page.getByRole('toolbar', { name: 'Recheck' }).getByRole('button', { name: 'Repaired' }).click();
  });

  it('has a reason let stand with a name, and counted again', async () => {
    const reasons = page.getByRole('list', { name: 'Reasons' });
    const gone = reasons.getByRole('listitem').filter({ hasText: 'Fine detail is gone' });
    await gone.getByRole('button', { name: /^Let it stand/ }).click();
    await page.getByLabel('Why it may stand').fill('It is meant to be soft.');
    await page.keyboard.press('Enter');
    await gone.getByText('Let stand by R. Hale: It is meant to be soft.').waitFor();
    expect((await returned())[0].waived).to.have.length(1);
    await gone.getByRole('button', { name: 'Count it again' }).click();
    await gone.getByRole('button', { name: /^Let it stand/ }).waitFor();
    expect((await returned())[0].waived).to.deep.equal([]);
  });

  it('goes back to a person with the reasons that count and a remark, and is not signed off by mistake', async () => {
    await page.getByRole('button', { name: 'Sign off' }).click();
    await page.getByRole('alert').getByText('By its recheck it goes back.').waitFor();
    await page.getByLabel('Remark').fill('The wall is smeared. Half as much, please.');
    await page.getByLabel('Repaired again by').fill('Mara');
    await page.getByRole('button', { name: 'Send back', exact: true }).click();
    await page.getByTestId('signed').getByText('Sent back by R. Hale').waitFor();
    const [{ signed }] = await returned();
    expect(signed).to.include({ how: 'sentBack', assignee: 'Mara' });
    expect(signed!.reason).to.match(/Fine detail is gone.*Half as much, please\.$/);
    const plan = await server.get<ClipPlan>(`/clips/${noisy.id}/plan`);
    expect(plan.decided.assignee).to.equal('Mara');
  });

  it('leaves as a sheet to print, with the reasons and who sent it back', async () => {
    const href = await page.getByRole('link', { name: 'Sheet to print' }).getAttribute('href');
    const answer = await fetch(`${server.url}${href}`);
    expect(answer.headers.get('content-type')).to.equal('application/pdf');
    const text = await textOfPdf(await answer.arrayBuffer());
    expect(text).to.contain('Sent back by R. Hale').and.to.contain('To be repaired by Mara.');
    expect(text).to.contain('Fine detail is gone').and.to.contain('At its worst');
  });

  it('comes again as a file that is chosen, is accepted and signed off, and stays as it is', async () => {
    await page.getByText('Return another repaired file').click();
    await page.locator('input[type=file]').setInputFiles(averaged);
    await until(async () => (await returned()).length === 2);
    await proved(2);
    await page
      .getByTestId('recheck-verdict')
      .getByText(/^accepted/)
      .waitFor();
    const { recheck } = (await returned())[1];
    expect(Recheck.parse(recheck).verdict).to.not.equal('sendBack');
    await page.getByRole('button', { name: 'Sign off' }).click();
    await page.getByTestId('signed').getByText('Signed off by R. Hale').waitFor();
    expect(await page.getByRole('button', { name: 'Send back', exact: true }).count()).to.equal(0);
    // The first one is still there, as it was said.
    await page.getByRole('button', { name: 'Look at version 2' }).click();
    await page.getByTestId('signed').getByText('The wall is smeared').waitFor();
    const detail = await server.get<{ versions: { number: number; kind: string }[] }>(`/clips/${noisy.id}`);
    expect(detail.versions.map((v) => v.kind)).to.deep.equal(['original', 'repaired', 'repaired']);
  });

  it('is opened by itself, with its own readings and nothing to decide, and left again for its clip', async () => {
    await page.getByRole('link', { name: 'Open it by itself' }).focus();
    await page.keyboard.press('Enter');
    await page.getByTestId('version-of').getByText('Version 2 of A002 noisy.mp4, by itself').waitFor();
    await page.getByText('frame 0, exact pixels', { exact: true }).waitFor();
    const sheets = page.getByRole('tablist', { name: 'Sheets' }).getByRole('tab');
    expect(await sheets.allTextContents()).to.deep.equal(['Evidence', 'Facts']);
    expect(await page.getByLabel('What the pointer does').count()).to.equal(0);
    const [{ recheck }] = await returned();
    const soft = recheck!.readings.find((r) => r.defect === 'softness')!;
    const time = page.getByRole('region', { name: 'Time' });
    await time.getByRole('button', { name: new RegExp(`^Softness ${soft.after!.toFixed(1)}`) }).waitFor();
    await page.keyboard.press('Alt+2');
    await page.getByText('Versions of this clip').waitFor();
    await page.getByText('open here').waitFor();
    await page.keyboard.press('Shift+Escape');
    await page.getByRole('table', { name: 'Versions that came back' }).waitFor();
  });

  it('is known by its name when it is dropped on the batch, and asked about before anything is sent', async () => {
    await page.goto(`${server.url}/batches/${batch.id}`);
    await page.getByRole('row').filter({ hasText: 'A002' }).waitFor();
    const drop = async (name: string, buffer: Buffer): Promise<void> =>
      page.getByLabel('Clips to add').setInputFiles({ name, mimeType: 'video/x-matroska', buffer });
    await drop('A002_noisy_again.mkv', await readFile(part));
    const asked = page.getByRole('region', { name: 'Dropped files' });
    await asked.getByText('This file has the name of a clip that is here').waitFor();
    expect(await asked.getByLabel('What A002_noisy_again.mkv is').inputValue()).to.equal(noisy.id);
    expect(await returned(), 'nothing is sent yet').to.have.length(2);
    await asked.getByRole('button', { name: 'Take them so' }).click();
    await until(async () => (await returned()).length === 3);
    await asked.waitFor({ state: 'detached' });
    expect((await returned())[2]).to.include({ file: 'A002_noisy_again.mkv', who: 'R. Hale' });
  });

  it('is found in a folder of the house, and says to which clip it went', async () => {
    const folder = join(server.media, 'repairs');
    await mkdir(folder);
    await copyFile(part, join(folder, 'A002 noisy v5.mkv'));
    await page.getByText('Return repairs').click();
    await page.getByLabel('File or folder of repaired files').fill(folder);
    await page.keyboard.press('Enter');
    const row = page.getByRole('table', { name: 'Returned', exact: true }).getByRole('row');
    await row.filter({ hasText: 'A002 noisy v5.mkv' }).getByText('by its name').waitFor();
    expect(await returned()).to.have.length(4);
  });

  /** Returns a file on the sheet of what came back, by keys. */
  const give = async (from: string, name: string, count: number): Promise<void> => {
    await copyFile(from, join(server.media, name));
    await tabOn(page, /^Return a repaired file/);
    await page.keyboard.press('ControlOrMeta+a');
    await page.keyboard.type(join(server.media, name));
    await page.keyboard.press('Enter');
    await until(async () => (await returned()).length === count);
    await proved(count);
  };
  inLongRuns('is returned, looked at and sent back by keys alone', async () => {
    await page.goto(`${server.url}/batches/${batch.id}/clips/${noisy.id}`);
    await page.getByText('frame 0, exact pixels', { exact: true }).waitFor();
    await page.keyboard.press('Alt+5');
    await page.getByRole('table', { name: 'Versions that came back' }).waitFor();
    await tabOn(page, /^Return another repaired file$/);
    await page.keyboard.press('Enter');
    await give(smeared, 'A002 noisy v6.mkv', 5);
    await page.getByTestId('recheck-verdict').getByText('send back').waitFor();
    await tabOn(page, /^Look at it: Fine detail is gone/);
    await page.keyboard.press('Enter');
    await page
      .getByRole('status')
      .getByText(/treated, exact pixels/)
      .waitFor();
    await page.keyboard.press('Shift+C');
    const ways = page.getByRole('toolbar', { name: 'Recheck' });
    await ways.getByRole('button', { name: 'Split', pressed: true }).waitFor();
    await tabOn(page, /^Remark/);
    await page.keyboard.type('Half as much, please.');
    await tabOn(page, /^Send back$/);
    await page.keyboard.press('Enter');
    await page.getByTestId('signed').getByText('Sent back by R. Hale').waitFor();
  });

  inLongRuns('is returned better, signed off and printed by keys alone', async () => {
    await give(averaged, 'A002 noisy v7.mkv', 6);
    await page
      .getByTestId('recheck-verdict')
      .getByText(/^accepted/)
      .waitFor();
    await tabOn(page, /^Sign off$/);
    await page.keyboard.press('Enter');
    await page.getByTestId('signed').getByText('Signed off by R. Hale').waitFor();
    await tabOn(page, /^Sheet to print$/);
    const asked = page.context().waitForEvent('request', (r) => r.url().endsWith('/out/sheet.pdf'));
    await page.keyboard.press('Enter');
    await asked;
    expect((await returned()).at(-1)!.signed).to.include({ how: 'signedOff', who: 'R. Hale' });
  });
});
