import { expect } from 'chai';
import { copyFile, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Locator, Page } from 'playwright-core';
import type { Batch, Clip } from '@bevrin/contract';
import { clipFile, HEIGHT, WIDTH } from '../support/clips.js';
import { onPages } from '../support/pages.js';
import type { TestServer } from '../support/test-server.js';
import { until } from '../support/until.js';

describe('the pages', function () {
  this.timeout(180_000);
  const open = onPages();
  let server: TestServer;
  let page: Page;
  let folder = '';
  let clipAddress = '';

  before(async () => {
    ({ server, page } = await open());
    folder = await mkdtemp(join(tmpdir(), 'bevrin-pages-'));
  });
  after(() => rm(folder, { recursive: true, force: true }));

  const row = (name: string): Locator => page.getByRole('row').filter({ hasText: name });
  const rowNames = (): Promise<string[]> => page.getByRole('row').getByRole('link').allTextContents();
  const inFolder = async (clip: Parameters<typeof clipFile>[0], name: string): Promise<string> => {
    const path = join(folder, name);
    await copyFile(await clipFile(clip), path);
    return path;
  };

  it('says that there is no batch yet, and opens one', async () => {
    await page.goto(server.url);
    await page.getByText('There is no batch yet').waitFor();
    await page.getByLabel('Name', { exact: true }).fill('Reel 7');
    await page.getByLabel('Production').fill('The Tidewater Line');
    await page.getByRole('button', { name: 'Open' }).click();
    await page.getByRole('heading', { name: 'Reel 7' }).waitFor();
    await page.getByText('No clips yet.').waitFor();
  });

  it('takes files, measures them while one looks on, and puts the worst first', async () => {
    const letter = join(folder, 'letter.mov');
    await writeFile(letter, 'Dear all, please find the rushes enclosed. '.repeat(20));
    await page
      .locator('input[type=file]')
      .setInputFiles([
        await inFolder('clean', 'A001 clean.mp4'),
        letter,
        await inFolder('longNoisy', 'A002 "noisy" é.mp4'),
        await inFolder('flickering', 'A003 flicker.mp4'),
      ]);
    await row('letter.mov').getByText('not readable').waitFor();
    await row('letter.mov').getByText('this is not a media file').waitFor();
    await row('A001 clean').getByText('pass', { exact: true }).waitFor();
    await row('A002').getByText('fail', { exact: true }).waitFor();
    await row('A003').getByText('fail', { exact: true }).waitFor();
    await row('A002').getByText('Reduce noise').waitFor();
    await row('A003').getByText('Deflicker').waitFor();
    await row('A001 clean').getByText('nothing to repair').waitFor();
    const names = await rowNames();
    expect(names[0]).to.equal('letter.mov');
    expect(names.slice(1, 3)).to.have.members(['A002 "noisy" é.mp4', 'A003 flicker.mp4']);
    expect(names[3]).to.equal('A001 clean.mp4');
  });

  it('says the eight severities in words for those who cannot see the bars', async () => {
    const marks = await row('A002')
      .getByRole('img')
      .evaluateAll((all) => all.map((m) => m.getAttribute('aria-label')));
    expect(marks.filter((m) => m?.includes(':'))).to.have.length(8);
    expect(marks.find((m) => m?.startsWith('Noise'))).to.match(/severity \d+, fail/);
    expect(marks.find((m) => m?.startsWith('Shake'))).to.match(/severity \d+/);
  });

  it('changes the order, and verdicts with the delivery spec', async () => {
    await page.getByLabel('Order').selectOption('received');
    await page.waitForURL(/sort=received/);
    const received = ['A001 clean.mp4', 'letter.mov', 'A002 "noisy" é.mp4', 'A003 flicker.mp4'];
    // The address changes a moment before the rows do.
    await until(async () => (await rowNames()).join() === received.join());
    await page.getByLabel('Order').selectOption('worst');
    await page.getByLabel('Delivery spec').selectOption('archive-access');
    await row('A002').getByText('marginal', { exact: true }).waitFor();
    await page.getByLabel('Delivery spec').selectOption('broadcast-hd');
    await row('A002').getByText('fail', { exact: true }).waitFor();
  });

  it('removes what cannot be read', async () => {
    await row('letter.mov').getByRole('button', { name: 'Remove' }).click();
    await row('letter.mov').waitFor({ state: 'detached' });
  });

  it('refuses a path outside the media folders in words', async () => {
    await page.getByLabel('Path of a file or folder on the server').fill('/etc/passwd');
    await page.getByRole('button', { name: 'Register' }).click();
    await page.getByRole('alert').getByText('outside the media folders').waitFor();
    await page.reload();
  });

  it('goes from the batch to a clip and back by keyboard alone', async () => {
    await row('A002').waitFor();
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await page.getByRole('toolbar', { name: 'Frames' }).waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('heading', { name: 'Reel 7' }).waitFor();
  });

  it('shows findings, evidence, curve and plan of the worst defect', async () => {
    await page.getByRole('link', { name: /A002/ }).click();
    await page.getByText(/^Noise of .* is above the fail limit/).waitFor();
    await page
      .getByRole('img', { name: /^Noise against signal level/ })
      .locator('svg')
      .first()
      .waitFor();
    await page.getByRole('tab', { name: /Plan/ }).click();
    await page.getByText('Reduce noise').waitFor();
    await page.getByText(/frames each side \d/).waitFor();
    await lane('Flicker').click();
    await page.getByRole('tab', { name: 'Evidence' }).click();
    await page.getByRole('img', { name: 'Spectrum over all row bands' }).locator('svg').first().waitFor();
    await lane('Shake').click();
    await page.getByText('crop to hide it').waitFor();
  });

  const lane = (defect: string): Locator =>
    page.getByRole('group', { name: 'Defects' }).getByRole('button', { name: defect });
  const status = (text: string): Promise<void> =>
    page.getByRole('status').getByText(text, { exact: true }).waitFor();

  it('steps by frame and shows exactly the pixels of the file', async () => {
    await page.keyboard.press('Home');
    await status('frame 0, exact pixels');
    for (let i = 0; i < 3; i++) await page.keyboard.press('ArrowRight');
    await status('frame 3, exact pixels');
    await page.keyboard.press('1');
    await page.keyboard.press('y');
    const batch = (await server.get<Batch[]>('/batches'))[0];
    const clip = (await server.get<{ clips: Clip[] }>(`/batches/${batch.id}`)).clips.find((c) =>
      c.name.startsWith('A002'),
    );
    const stored = await fetch(`${server.url}/api/clips/${clip?.id}/frames/3.planes`);
    const luma = new Uint8Array(await stored.arrayBuffer(), 0, WIDTH * HEIGHT);
    const expected = Array.from(luma.subarray(0, WIDTH), (code) =>
      Math.max(0, Math.min(255, Math.round(((code - 16) * 255) / 219))),
    );
    await page.waitForFunction(
      () => document.querySelector('[data-testid=scale]')?.textContent?.trim() === '100 %',
    );
    await page.waitForTimeout(300);
    const shown = await page
      .getByRole('img', { name: /frame 3$/ })
      .first()
      .evaluate(
        (node, [width, height]) => {
          const canvas = node as HTMLCanvasElement;
          const [x, y] = [(canvas.width - width) / 2, (canvas.height - height) / 2].map(Math.round);
          const row = canvas.getContext('2d')!.getImageData(x, y, width, 1).data;
          return Array.from({ length: width }, (_, i) => row[4 * i]);
        },
        [WIDTH, HEIGHT],
      );
    expect(shown).to.deep.equal(expected);
    await page.keyboard.press('c');
    await page.keyboard.press('End');
    await status('frame 39, exact pixels');
    await page.keyboard.press('Shift+ArrowLeft');
    await status('frame 14, exact pixels');
  });

  it('plays the reduced copy and returns to the exact frame where it stops', async () => {
    await page.keyboard.press('Home');
    await status('frame 0, exact pixels');
    await page.keyboard.press('Space');
    await status('playing copy, reduced');
    await page.waitForFunction(() => (document.querySelector('video')?.currentTime ?? 0) > 0.3);
    await page.keyboard.press('Space');
    const stopped = page.getByRole('status').getByText(/^frame [1-9]\d*, exact pixels$/);
    await stopped.waitFor();
    const at = Number(/\d+/.exec(await stopped.innerText())![0]);
    const played = await page.evaluate(() => document.querySelector('video')!.currentTime * 25);
    expect(at, 'the frame that was playing').to.be.within(Math.floor(played) - 1, Math.ceil(played) + 1);
  });

  it('jumps where the ruler is pressed, and enlarges the picture', async () => {
    const paper = await page.getByRole('region', { name: 'Time' }).boundingBox();
    await page.mouse.click(paper!.x + 188 + (paper!.width - 188) * 0.51, paper!.y + 60);
    await status('frame 20, exact pixels');
    await page.keyboard.press('6');
    await page.getByText('600 %', { exact: true }).waitFor();
    await page.mouse.move(300, 300);
    await page.mouse.wheel(0, -400);
    await page.getByText('800 %', { exact: true }).waitFor();
    await page.keyboard.press('0');
    await page.getByRole('button', { name: 'whole', pressed: true }).waitFor();
  });

  it('keeps a note', async () => {
    await page.getByRole('tab', { name: 'Facts, note' }).click();
    await page.getByRole('textbox', { name: 'Note' }).fill('Lamps were meant to be dim.');
    await page.getByText('saved', { exact: true }).waitFor();
    await page.reload();
    await page.getByRole('tab', { name: 'Facts, note' }).click();
    expect(await page.getByRole('textbox', { name: 'Note' }).inputValue()).to.equal(
      'Lamps were meant to be dim.',
    );
  });

  it('keeps what was typed in the last moment before the page is left', async () => {
    clipAddress = page.url();
    const path = `/api/clips/${clipAddress.split('/').at(-1)}`;
    const note = page.getByRole('textbox', { name: 'Note' });
    await note.fill('Typed and left at once.');
    await page.getByRole('link', { name: 'Bevrin' }).click();
    await page.getByRole('heading', { name: 'Batches' }).waitFor();
    const noted = async (): Promise<string> => ((await (await fetch(server.url + path)).json()) as Clip).note;
    while ((await noted()) !== 'Typed and left at once.') await page.waitForTimeout(50);
    await page.goBack();
    await page.getByRole('tab', { name: 'Facts, note' }).click();
    await note.fill('Typed, and the whole page closed.');
    await page.goto('about:blank');
    while ((await noted()) !== 'Typed, and the whole page closed.') await page.waitForTimeout(50);
  });

  it('writes no note over one that another page wrote meanwhile, and asks', async () => {
    await page.goto(clipAddress);
    await page.getByRole('tab', { name: 'Facts, note' }).click();
    const note = page.getByRole('textbox', { name: 'Note' });
    // Another page of the same person's, as a second window would be.
    const other = await page.context().browser()!.newPage();
    await other.goto(clipAddress);
    await other.getByRole('tab', { name: 'Facts, note' }).click();
    await note.pressSequentially(' And mine.', { delay: 5 });
    await other.getByRole('textbox', { name: 'Note' }).fill('Theirs.');
    await Promise.race([
      page.getByRole('alert').getByText('changed meanwhile').waitFor(),
      other.getByRole('alert').getByText('changed meanwhile').waitFor(),
    ]);
    const late = (await page.getByRole('alert').getByText('changed meanwhile').isVisible()) ? page : other;
    await late.getByRole('button', { name: 'Keep both' }).click();
    // What was kept is told to the page that had not asked, too.
    const both = /And mine\.[^]*Theirs\.|Theirs\.[^]*And mine\./;
    for (const shown of [page, other])
      while (!both.test(await shown.getByRole('textbox', { name: 'Note' }).inputValue()))
        await shown.waitForTimeout(50);
    await other.close();
  });

  it('shows the evidence of every defect that was measured, with its curves', async () => {
    await page.getByRole('tab', { name: 'Evidence' }).click();
    const defects = page.getByRole('group', { name: 'Defects' });
    for (const [name, says] of [
      ['Shake', 'crop to hide it'],
      ['Softness', 'width of its detail'],
      ['Banding', 'bits really used'],
    ] as const) {
      await defects.getByRole('button', { name }).click();
      await page.getByText(says).waitFor();
      await page.locator('.js-plotly-plot .main-svg').first().waitFor();
    }
    await defects.getByRole('button', { name: 'Rolling shutter' }).click();
    await page
      .getByText(/Rolling shutter was not measured|read-out/)
      .first()
      .waitFor();
  });

  it('lists the keys', async () => {
    await page.getByRole('button', { name: 'Keys' }).click();
    await page.getByRole('dialog').getByText('One frame back', { exact: true }).waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('dialog').waitFor({ state: 'detached' });
    expect(page.url()).to.contain('/clips/');
  });

  it('says so when an address leads nowhere', async () => {
    await page.goto(`${server.url}/batches/00000000-0000-4000-8000-000000000000`);
    await page.getByRole('alert').getByText('There is no such batch').waitFor();
    await page.goto(`${server.url}/nowhere/at/all`);
    await page.getByRole('heading', { name: 'There is no such page' }).waitFor();
    await page.getByText('Nothing stands at /nowhere/at/all').waitFor();
    expect(page.url()).to.contain('/nowhere/at/all');
  });
});
