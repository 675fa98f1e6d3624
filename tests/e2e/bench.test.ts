import { expect } from 'chai';
import { copyFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import type { Batch, Clip, ClipDetail, ClipPlan, Overrides } from '@bevrin/contract';
import { clipFile, HEIGHT, WIDTH } from '../support/clips.js';
import { measurementWith } from '../support/measurement.js';
import { onPages } from '../support/pages.js';
import type { TestServer } from '../support/test-server.js';

/** The day of a technician, from the list to the approved plan. */
describe('the bench', function () {
  this.timeout(180_000);
  const open = onPages();
  let server: TestServer;
  let page: Page;
  let batch: Batch;
  let noisy: Clip;

  before(async () => {
    ({ server, page } = await open());
    batch = (await server.send('POST', '/batches', { name: 'Reel 9', specId: 'broadcast-hd' })).body as Batch;
    for (const name of ['noisy', 'clean'] as const)
      await copyFile(await clipFile(name), join(server.media, `A00${name === 'noisy' ? 1 : 2} ${name}.mp4`));
    const { body } = await server.send('POST', `/batches/${batch.id}/clips`, { path: server.media });
    for (const { id } of (body as { added: Clip[] }).added) await server.settled(id);
    noisy = (body as { added: Clip[] }).added.find((c) => c.name.includes('noisy'))!;
  });

  const detail = (): Promise<ClipDetail> => server.get<ClipDetail>(`/clips/${noisy.id}`);
  const lumaOf = ({ measurement }: Pick<ClipDetail, 'measurement'>): number => {
    const noise = measurement?.readings.noise;
    return noise?.state === 'measured' ? noise.values.lumaPct : NaN;
  };
  /** Waits until something was decided, and the clip is measured so. */
  const measuredAgain = async (decided: keyof Overrides): Promise<ClipDetail> => {
    for (;;) {
      const clip = await detail();
      const { measuredUnder } = clip.measurement!;
      if (clip.state === 'measured' && clip.overrides[decided] && measuredUnder[decided]) return clip;
      await new Promise((done) => setTimeout(done, 200));
    }
  };
  const readout = (): Promise<string> => page.getByTestId('readout').innerText();

  it('opens the worst clip, and goes to its worst moment, by one key each', async () => {
    await page.goto(`${server.url}/batches/${batch.id}`);
    await page.getByRole('row').filter({ hasText: 'A001' }).waitFor();
    await page.keyboard.press('w');
    await page.getByText('frame 0, exact pixels', { exact: true }).waitFor();
    await page.getByText(/^Noise of .* is above the fail limit/).waitFor();
    await page.keyboard.press('w');
    await page
      .getByRole('status')
      .getByText(/^frame [1-9]\d*, exact pixels$/)
      .waitFor();
  });

  it('shows one channel at six times its size, and tells what is under the pointer', async () => {
    await page.keyboard.press('Home');
    await page.getByText('frame 0, exact pixels', { exact: true }).waitFor();
    await page.keyboard.press('b');
    await page.getByRole('button', { name: 'Blue', pressed: true }).waitFor();
    await page.keyboard.press('6');
    await page.getByText('600 %', { exact: true }).waitFor();
    await page.mouse.move(424, 318);
    await page.getByTestId('readout').waitFor();
    const [, x, y, luma] = /x (\d+), y (\d+)\s*Y (\d+)/.exec(await readout())!.map(Number);
    const stored = await fetch(`${server.url}/api/clips/${noisy.id}/frames/0.planes`);
    expect(luma).to.equal(new Uint8Array(await stored.arrayBuffer())[y * WIDTH + x]);
    await page.keyboard.press('c');
    await page.keyboard.press('0');
  });

  it('reads the noise of a drawn patch at once, and measures the clip there when told to', async () => {
    const machine = lumaOf(await detail());
    await page.keyboard.press('p');
    await page.mouse.move(300, 200);
    await page.mouse.down();
    await page.mouse.move(560, 420, { steps: 4 });
    await page.mouse.up();
    const reading = page.getByTestId('patch-reading');
    await reading.getByText('luma σ').waitFor();
    const read = Number(/luma σ\s*([\d.]+)/.exec(await reading.innerText())![1]);
    expect(read, 'a patch of the picture reads what the picture reads').to.be.closeTo(machine, 0.3 * machine);
    await page.getByRole('button', { name: 'Use as the flat patch' }).click();
    await page.getByText('Say who decides').waitFor();
    await page.getByLabel('Your name').fill('Ines');
    await page.getByRole('button', { name: 'Use as the flat patch' }).click();
    const clip = await measuredAgain('noisePatch');
    expect(clip.overrides.noisePatch).to.include.keys('x', 'y', 'width', 'height');
    expect(lumaOf({ measurement: clip.machine })).to.equal(machine);
    const { noise: _, ...others } = clip.measurement!.readings;
    const { noise: __, ...before } = clip.machine!.readings;
    expect(others, 'only the measure concerned was asked again').to.deep.equal(before);
    await page.getByRole('tab', { name: 'Evidence' }).click();
    await page.getByText('machine: ').first().waitFor();
  });

  it('masks a place that is written down, and measures everything without it', async () => {
    await page.getByRole('tab', { name: /Overrule/ }).click();
    await page.getByRole('button', { name: 'Write down: new mask' }).click();
    for (const [side, value] of [
      ['x', '0'],
      ['y', '0'],
      ['width', '90'],
      ['height', String(HEIGHT)],
    ])
      await page.getByLabel(`New mask: ${side}, px`).fill(value);
    await page.keyboard.press('Enter');
    await page.getByText(`90 × ${HEIGHT} px at 0, 0`).waitFor();
    const { measurement } = await measuredAgain('masks');
    expect(measurement?.measuredUnder.masks).to.have.length(1);
    expect(
      measurement?.readings.noise.regions.every((r) => r.x >= 74),
      'no patch lies under the mask',
    ).to.equal(true);
  });

  it('takes the camera for what it was meant to be', async () => {
    await page.getByLabel('Camera intent').selectOption('locked-off');
    const { measurement } = await measuredAgain('intent');
    expect(
      measurement?.readings.shake.state === 'measured' && measurement.readings.shake.values.camera,
    ).to.equal('locked-off');
  });

  it('refuses what makes no sense, and says why', async () => {
    const { status, body } = await server.send('POST', `/clips/${noisy.id}/decisions`, {
      who: 'Ines',
      decision: { kind: 'overrule', overrides: { noisePatch: { x: 900, y: 0, width: 50, height: 50 } } },
    });
    expect(status).to.equal(422);
    expect((body as { error: string }).error).to.equal(
      `A001 noisy.mp4: the flat patch lies outside the picture of ${WIDTH} × ${HEIGHT} pixels. Draw it again.`,
    );
  });

  it('keeps a note on a frame, and goes back to it', async () => {
    await page.keyboard.press('End');
    await page.getByText('frame 24, exact pixels', { exact: true }).waitFor();
    await page.getByLabel('Note on frame 24').fill('The lamp goes out here.');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'frame 24' }).waitFor();
    await page.getByRole('tab', { name: 'Evidence' }).click();
    await page.keyboard.press('Home');
    await page.getByText('frame 0, exact pixels', { exact: true }).waitFor();
    await page.getByRole('tab', { name: /Overrule/ }).click();
    await page.getByRole('button', { name: 'frame 24' }).click();
    await page.getByText('frame 24, exact pixels', { exact: true }).waitFor();
  });

  it('sets a finding aside that is no defect, and the verdict follows', async () => {
    // The clip is held: what only shows where the camera moves has not passed.
    await page.getByText('Could not be told: Rolling shutter, wobble of the rows, lens spots.').waitFor();
    expect(await page.getByText(/^Within its limits: /).innerText()).to.not.match(/spots|wobble/);
    await page.getByRole('tab', { name: 'Evidence' }).click();
    await page.getByRole('group', { name: 'Defects' }).getByRole('button', { name: 'Noise' }).click();
    const before = (await server.get<ClipPlan>(`/clips/${noisy.id}/plan`)).decided;
    expect(before.steps.map((s) => s.treatment)).to.include('reduceNoise');
    await page.getByRole('button', { name: 'Not a defect' }).first().click();
    await page.getByLabel('Why noise is not a defect').fill('Grain of the film, wanted.');
    await page.keyboard.press('Enter');
    await page.getByText('Decided: not a defect.').waitFor();
    const { decided } = await server.get<ClipPlan>(`/clips/${noisy.id}/plan`);
    expect(decided.disputed).to.deep.include({
      defect: 'noise',
      reading: 'lumaPct',
      reason: 'Grain of the film, wanted.',
    });
    expect(decided.steps.map((s) => s.treatment)).to.not.include('reduceNoise');
  });

  it('steps through frames by the arrows, whichever sheet was just clicked', async () => {
    await page.getByRole('tab', { name: 'Evidence' }).click();
    await page.keyboard.press('Home');
    await page.getByText('frame 0, exact pixels', { exact: true }).waitFor();
    await page.getByRole('tab', { name: /Overrule/ }).click();
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('ArrowRight');
    await page.getByText('frame 2, exact pixels', { exact: true }).waitFor();
    await page.keyboard.press('ArrowLeft');
    await page.getByText('frame 1, exact pixels', { exact: true }).waitFor();
    expect(await page.getByRole('tab', { name: /Overrule/ }).getAttribute('data-state')).to.equal('active');
  });

  it('finds the words of a note that was not added yet, after the page was left', async () => {
    await page.getByLabel('Note on frame 1').fill('Half a thou');
    await page.reload();
    await page.getByText('exact pixels').waitFor();
    await page.getByRole('tab', { name: /Overrule/ }).click();
    expect(await page.getByLabel(/^Note on frame/).inputValue()).to.equal('Half a thou');
    await page.getByLabel(/^Note on frame/).fill('');
  });

  it('approves by keys, and what was decided survives a crash', async () => {
    await page.locator('body').click({ position: { x: 640, y: 20 } });
    await page.keyboard.press('d');
    await page.getByRole('heading', { name: 'Repair plan' }).waitFor();
    await page.keyboard.press('Control+Enter');
    await page.getByText('approved by').waitFor();
    await server.restart();
    const { decided, frameNotes, history } = await server.get<ClipPlan>(`/clips/${noisy.id}/plan`);
    expect(decided.approved?.who).to.equal('Ines');
    expect(frameNotes.map((n) => n.text)).to.deep.equal(['The lamp goes out here.']);
    expect(history.map((h) => h.decision.kind)).to.deep.equal([
      'overrule',
      'overrule',
      'overrule',
      'frameNote',
      'notDefect',
      'approve',
    ]);
    expect((await detail()).overrides.intent).to.equal('locked-off');
  });

  it('says on the sheet why a "not a defect" was not kept: nobody says who decides, or the plan is approved', async () => {
    const seeded = await server.seed(batch.id, 'A003 grain.mov', measurementWith({ noise: { lumaPct: 3 } }));
    await page.evaluate(() => localStorage.removeItem('bevrin.who'));
    await page.goto(`${server.url}/batches/${batch.id}/clips/${seeded.id}`);
    await page.getByRole('button', { name: 'Not a defect' }).first().click();
    await page.getByLabel('Why noise is not a defect').fill('It is meant.');
    await page.keyboard.press('Enter');
    await page.getByRole('alert').getByText('Say who decides').waitFor();
    await page.getByRole('alert').getByLabel('Your name').fill('Ines');
    await page.getByRole('button', { name: 'Decide', exact: true }).click();
    await page.getByText('Decided: not a defect.').waitFor();
    expect(await page.getByRole('alert').count()).to.equal(0);
    await server.send('POST', `/clips/${seeded.id}/decisions/undo`);
    const approved = { who: 'S. Quill', decision: { kind: 'approve' } };
    expect((await server.send('POST', `/clips/${seeded.id}/decisions`, approved)).status).to.equal(201);
    await page.goto(`${server.url}/batches/${batch.id}/clips/${seeded.id}`);
    await page.getByRole('button', { name: 'Not a defect' }).first().click();
    await page.getByLabel('Why noise is not a defect').fill('It is meant.');
    await page.keyboard.press('Enter');
    await page.getByRole('alert').getByText('S. Quill approved this plan, and it is frozen').waitFor();
  });

  it('looks through a viewing transform, plain while a key is held, and parted by a line', async () => {
    await page.goto(`${server.url}/batches/${batch.id}/clips/${noisy.id}`);
    await page.getByText('frame 0, exact pixels', { exact: true }).waitFor();
    const brightness = (): Promise<number> =>
      page
        .getByRole('img', { name: /frame 0$/ })
        .first()
        .evaluate((node) => {
          const canvas = node as HTMLCanvasElement;
          const { data } = canvas
            .getContext('2d')!
            .getImageData(canvas.width / 2 - 40, canvas.height / 2 - 40, 80, 80);
          return data.reduce((a, b) => a + b, 0) / data.length;
        });
    await page.waitForTimeout(400);
    const plain = await brightness();
    await page.getByRole('button', { name: 'Viewing transform' }).click();
    await page.getByLabel('A .cube file').setInputFiles({
      name: 'broken.cube',
      mimeType: 'text/plain',
      buffer: Buffer.from('LUT_1D_SIZE 3\n0 0 0\n1 1 1\n'),
    });
    await page.getByText('broken.cube: 3 entries are announced, 2 are there.').waitFor();
    await page.getByRole('button', { name: 'Raise exposure' }).click();
    await page.keyboard.press('Escape');
    await page.waitForTimeout(600);
    const raised = await brightness();
    expect(raised).to.be.greaterThan(plain + 10);
    await page.locator('body').click({ position: { x: 640, y: 20 } });
    await page.keyboard.down('q');
    await page.waitForTimeout(600);
    expect(await brightness()).to.be.closeTo(plain, 1);
    await page.keyboard.up('q');
    await page.keyboard.press('k');
    const split = page.getByRole('slider', { name: /^Split/ });
    await split.focus();
    await page.keyboard.press('ArrowRight');
    expect(await split.getAttribute('aria-valuenow')).to.equal('52');
  });

  it('finds a command by its words', async () => {
    await page.locator('body').click({ position: { x: 640, y: 20 } });
    await page.keyboard.press('Control+k');
    await page.keyboard.type('straight');
    await page.keyboard.press('Enter');
    await page.getByRole('checkbox', { name: 'grid', checked: true }).waitFor();
  });
});
