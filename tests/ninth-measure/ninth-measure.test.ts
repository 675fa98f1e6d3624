import { expect } from 'chai';
import { spawnSync } from 'node:child_process';
import { copyFileSync, cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, Page } from 'playwright-core';
import type { Batch, BatchDetail, Clip, DeliverySpec } from '@bevrin/contract';
import { startBrowser } from '../../scripts/setup/browser.js';
import { clipFile } from '../support/clips.js';
import { textOfPdf } from '../support/pdf.js';
import { groupInLongRuns } from '../support/share.js';
import { ServerProcess } from '../support/server-process.js';
import { copySources } from '../support/source-copy.js';

const LIST = 'packages/core/src/measures/all.ts';
/** Builds the same pages, neither small nor without what they do not need. */
const QUICK = 'apps/web/vite.quick.config.ts';
const QUICK_CONFIG = `import config from './vite.config.js';
const build = { ...config.build, minify: false, rollupOptions: { treeshake: false } };
export default { ...config, build };
`;

/** A copy of the sources with the folder of a ninth measure in it, and its line in the list. */
const withNinthMeasure = (root: string): void => {
  copySources(root);
  cpSync('tests/ninth-measure/clipped-picture', join(root, 'packages/core/src/measures/clipped-picture'), {
    recursive: true,
  });
  writeFileSync(join(root, QUICK), QUICK_CONFIG);
  const list = readFileSync(LIST, 'utf8');
  writeFileSync(
    join(root, LIST),
    list
      .replace(/^/, "import { clippedPicture } from './clipped-picture/descriptor.js';\n")
      .replace('\n] as const', '\n  clippedPicture,\n] as const'),
  );
};

/** A delivery that lets next to nothing clip. */
const strict = (): DeliverySpec => {
  const hd = JSON.parse(readFileSync('specs/broadcast-hd.json', 'utf8')) as DeliverySpec;
  const limit = {
    ...hd.limits[0],
    defect: 'clippedPicture',
    reading: 'worstPct',
    unit: '%',
    pass: 0.0001,
    fail: 0.0002,
  };
  return { ...hd, id: 'strict', name: 'Strict', requires: {}, limits: [...hd.limits, limit as never] };
};

groupInLongRuns('a ninth measure, by one folder and its line in one list', function () {
  this.timeout(300_000);
  let root = '';
  const run = (...args: string[]): { status: number | null; stdout: string; stderr: string } =>
    spawnSync(process.execPath, args, { cwd: root, encoding: 'utf8', maxBuffer: 1e8 });
  before(() => {
    root = mkdtempSync(join(tmpdir(), 'bevrin-ninth-'));
    withNinthMeasure(root);
  });
  after(() => rmSync(root, { recursive: true, force: true }));

  it('holds for the types of the whole house', () => {
    // What ships, without its tests: these know nothing of a ninth.
    const house = {
      extends: './tsconfig.json',
      include: ['packages/*/src', 'apps/*/src', 'types'],
      exclude: ['**/*.test.ts'],
    };
    writeFileSync(join(root, 'tsconfig.house.json'), JSON.stringify(house));
    const { status, stdout } = run('node_modules/@typescript/native/bin/tsc', '-p', 'tsconfig.house.json');
    expect(stdout).to.equal('');
    expect(status).to.equal(0);
  });

  it('is in the document of the command, judged by a spec that names it, and in the published schema', async () => {
    writeFileSync(join(root, 'strict.json'), JSON.stringify({ ...strict(), version: 1 }));
    const { stdout, stderr } = run(
      'apps/cli/measure.mjs',
      await clipFile('brief'),
      '--spec',
      './strict.json',
      '--json',
    );
    expect(stderr).to.equal('');
    const document = JSON.parse(stdout) as {
      readings: Record<string, { state: string; values: Record<string, number> }>;
      findings: { defect: string; verdict: string; because: string }[];
    };
    const { state, values } = document.readings.clippedPicture;
    expect([state, values.worstPct > 0]).to.deep.equal(['measured', true]);
    const finding = document.findings.find((f) => f.defect === 'clippedPicture');
    expect(finding?.verdict).to.equal('fail');
    expect(finding?.because).to.contain('Clipped picture, worst frame of');
    expect(Object.keys(document.readings)).to.have.length(9);
    const published = run(
      '--import',
      'tsx',
      '--eval',
      "import('./scripts/schemas.ts').then((m) => console.log(m.published(m.SCHEMAS['measure-document'])))",
    );
    expect(published.stdout).to.contain('"clippedPicture"');
  });

  describe('on a server and its pages', () => {
    let server: ServerProcess;
    let browser: Browser;
    let page: Page;
    let batch: Batch;
    let clip: Clip;

    before(async () => {
      const built = run('node_modules/vite/bin/vite.js', 'build', '--config', QUICK, '--logLevel', 'error');
      expect(built.stderr).to.equal('');
      server = await ServerProcess.start(root, { WEB_DIR: join(root, 'apps/web/dist') });
      browser = await startBrowser();
      page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
      const saved = await server.send('POST', '/specs', { spec: strict(), replaces: null });
      expect(saved.status, JSON.stringify(saved.body)).to.equal(201);
      batch = (await server.send<Batch>('POST', '/batches', { name: 'Reel 9', specId: 'strict' })).body;
      const path = join(server.media, 'A009 lamps.mp4');
      copyFileSync(await clipFile('brief'), path);
      const { body } = await server.send<{ added: Clip[] }>('POST', `/batches/${batch.id}/clips`, { path });
      clip = await server.settled(body.added[0].id);
      expect(clip.error).to.equal(null);
    });
    after(async () => {
      await browser?.close();
      await server?.remove();
    });

    it('is refused in a spec under a reading that it does not have', async () => {
      const spec = strict();
      spec.limits[spec.limits.length - 1] = { ...spec.limits[spec.limits.length - 1], reading: 'areaPct' };
      const { status, body } = await server.send<{ error: string }>('POST', '/specs', {
        spec: { ...spec, id: 'wrong' },
        replaces: null,
      });
      expect(status).to.equal(400);
      expect(body.error)
        .to.contain('clippedPicture has no reading "areaPct"')
        .and.to.contain('sharePct, worstPct');
    });

    it('has its column in the list of the batch', async () => {
      const { clips } = await server.get<BatchDetail>(`/batches/${batch.id}`);
      expect(clips[0].summary?.findings.map((f) => f.defect)).to.include('clippedPicture');
      await page.goto(`${server.url}/batches/${batch.id}`);
      await page.getByRole('columnheader', { name: 'Clip.', exact: true }).waitFor();
      await page.getByRole('img', { name: /^Clipped picture: severity \d+, fail/ }).waitFor();
    });

    it('has its lane, its finding, its figures and its chart on the clip page', async () => {
      await page.goto(`${server.url}/batches/${batch.id}/clips/${clip.id}`);
      await page
        .getByRole('button', { name: /^Clipped picture/ })
        .first()
        .click();
      await page.getByText('Clipped picture, worst frame of').first().waitFor();
      await page.getByText('share of the picture', { exact: true }).waitFor();
      await page.getByText('in the worst frame', { exact: true }).waitFor();
      await page.getByText('clipped, %').first().waitFor();
    });

    it('is in the table and on the sheet that leave the house', async () => {
      const csv = await (await fetch(`${server.url}/api/batches/${batch.id}/out/findings.csv`)).text();
      expect(csv).to.match(/Clipped picture,worstPct,/);
      const text = await textOfPdf(
        await (await fetch(`${server.url}/api/clips/${clip.id}/out/sheet.pdf`)).arrayBuffer(),
      );
      expect(text).to.contain('Clipped picture').and.to.contain('Clipped, %');
    });
  });
});
