import { expect } from 'chai';
import { createRequire } from 'node:module';
import type { Page } from 'playwright-core';
import type { AxeResults } from 'axe-core';
import type { Batch, Clip } from '@bevrin/contract';
import { measurementWith } from '../support/measurement.js';
import { onPages } from '../support/pages.js';
import type { TestServer } from '../support/test-server.js';

const AXE = createRequire(import.meta.url).resolve('axe-core/axe.min.js');
const STANDARD = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa'];
const MANY = 5000;
/** So many hands type what is searched for. */
const HANDS = 2;
/** Types just when the list begins to follow the letter before: as text, for nothing of it is compiled for the page. */
const TYPED_AS_IT_FOLLOWS = `(async () => {
  const field = document.querySelector('input[type=search]');
  const { set } = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value');
  for (const letter of 'clip 4321') {
    set.call(field, field.value + letter);
    field.dispatchEvent(new Event('input', { bubbles: true }));
    await new Promise((rest) => setTimeout(rest, 90));
  }
})()`;

/** The pages for everybody, and for batches of any size. */
describe('every page', function () {
  this.timeout(120_000);
  const open = onPages({ reducedMotion: 'reduce' });
  let server: TestServer;
  let page: Page;
  let batch: Batch;
  let clip: Clip;

  before(async () => {
    ({ server, page } = await open());
    batch = (await server.send('POST', '/batches', { name: 'Reel 12', specId: 'broadcast-hd' }))
      .body as Batch;
    clip = await server.seed(batch.id, 'A001 night.mov', measurementWith({ noise: { lumaPct: 3 } }));
    await server.seed(batch.id, 'A002 clean.mov', measurementWith());
  });

  const violations = async (): Promise<string[]> => {
    await page.addScriptTag({ path: AXE });
    const { violations: found } = await page.evaluate(
      (tags) =>
        (window as unknown as { axe: { run(where: Document, how: object): Promise<AxeResults> } }).axe.run(
          document,
          { runOnly: { type: 'tag', values: tags } },
        ),
      STANDARD,
    );
    return found.map((v) => `${v.id}: ${v.nodes.map((n) => n.html.slice(0, 120)).join(' | ')}`);
  };

  const VIEWS: [name: string, path: () => string, sign: string][] = [
    ['the list of batches', () => '/', 'Reel 12'],
    ['a batch', () => `/batches/${batch.id}`, 'A001 night.mov'],
    ['a batch as a contact sheet', () => `/batches/${batch.id}?layout=contact`, 'A001 night.mov'],
    ['a clip', () => `/batches/${batch.id}/clips/${clip.id}`, 'Not a defect'],
    ['a plan', () => `/batches/${batch.id}/clips/${clip.id}/plan`, 'Three sizes of plan'],
    ['the work list', () => `/batches/${batch.id}/work`, 'A001 night.mov'],
    ['the report', () => `/batches/${batch.id}/report`, 'Hand over'],
    ['the list of specs', () => '/specs', 'Broadcast HD'],
    ['a spec', () => `/specs/broadcast-hd?batch=${batch.id}`, 'Versions'],
  ];
  for (const [name, path, sign] of VIEWS)
    it(`can be read and used by everybody: ${name}`, async () => {
      await page.goto(`${server.url}${path()}`);
      await page.getByText(sign).first().waitFor();
      expect(await violations()).to.deep.equal([]);
    });

  it('can be read and used by everybody: what is decided on a clip, and the list of commands', async () => {
    await page.goto(`${server.url}/batches/${batch.id}/clips/${clip.id}`);
    await page.getByText('Not a defect').first().waitFor();
    await page.keyboard.press('Alt+2');
    await page.getByText('Flat patch', { exact: true }).waitFor();
    expect(await violations()).to.deep.equal([]);
    await page.keyboard.press('Control+k');
    await page.getByRole('dialog').waitFor();
    expect(await violations()).to.deep.equal([]);
    await page.keyboard.press('Escape');
  });

  it('says what a clip lacks when its file has gone, and keeps its readings', async () => {
    await page.goto(`${server.url}/batches/${batch.id}/clips/${clip.id}`);
    await page.getByText(/^Noise of 3 % is above the fail limit/).waitFor();
    await page.getByText(/A001 night.mov: there is no such file/).waitFor();
  });

  it('shows a batch of five thousand clips, and finds the ones that are asked for', async () => {
    const large = (await server.send('POST', '/batches', { name: 'Library', specId: 'broadcast-hd' }))
      .body as Batch;
    await server.multiply(clip.id, large.id, MANY);
    await page.goto(`${server.url}/batches/${large.id}`);
    await page.getByText(`${MANY} clips`).waitFor();
    expect(await page.getByRole('row').count(), 'only those in sight are drawn').to.be.lessThan(40);
    const bar = page.getByRole('search');
    const { height } = (await bar.boundingBox())!;
    // By a slow hand on a slow machine: the list follows between two letters, and none of them is lost.
    const machine = await page.context().newCDPSession(page);
    await machine.send('Emulation.setCPUThrottlingRate', { rate: 6 });
    await page.keyboard.press('/');
    await page.keyboard.type('clip 4321', { delay: 110 });
    await page.getByText(`1 of ${MANY}`).waitFor();
    const field = page.getByRole('searchbox');
    for (let again = 0; again < HANDS; again++) {
      await field.fill('');
      await page.getByText(`${MANY} clips`).waitFor();
      await page.evaluate(TYPED_AS_IT_FOLLOWS);
      expect(await field.inputValue()).to.equal('clip 4321');
      await page.getByText(`1 of ${MANY}`).waitFor();
    }
    await machine.send('Emulation.setCPUThrottlingRate', { rate: 1 });
    await page.getByRole('link', { name: 'clip 4321' }).waitFor();
    expect((await bar.boundingBox())!.height, 'the clips stay where they are').to.equal(height);
    expect(page.url()).to.contain('q=clip+4321');
    await page.reload();
    await page.getByText(`1 of ${MANY}`).waitFor();
    await page.getByRole('button', { name: 'Show all' }).click();
    await page.getByRole('row').nth(4).waitFor();
    await page.getByLabel('Defect', { exact: true }).selectOption('noise');
    await page.getByLabel('from severity').fill('90');
    // The list follows what is typed a moment later: what counts is where it comes to rest.
    await page.waitForFunction((most) => {
      const said = document.querySelector('[role=search] [role=status]')?.textContent ?? '';
      const left = Number(/^(\d+) of 5000$/.exec(said)?.[1]);
      return left >= 1 && left <= most;
    }, MANY / 5);
    const marks = await page
      .getByRole('img', { name: /^Noise: severity/ })
      .evaluateAll((all) =>
        all.map((m) => Number(/severity (\d+)/.exec(m.getAttribute('aria-label') ?? '')?.[1])),
      );
    expect(marks.length).to.be.greaterThan(3);
    expect(marks.every((m) => m >= 90)).to.equal(true);
  });

  it('chooses a run of clips by keys, and assigns them together', async () => {
    await page.goto(`${server.url}/batches/${batch.id}`);
    await page.getByRole('row').nth(2).waitFor();
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Shift+ArrowDown');
    await page.getByText('2 clips chosen').waitFor();
    await page.getByLabel('Assign to', { exact: true }).fill('Mara');
    await page.getByLabel('Your name').fill('R. Hale');
    await page.keyboard.press('Enter');
    await page.getByText('2 of 2 assigned to Mara.').waitFor();
    await page.getByRole('row').filter({ hasText: 'A002' }).getByText('Mara').waitFor();
    await page.getByLabel('Assigned to').selectOption('Mara');
    await page.waitForURL(/assignee=Mara/);
  });
});
