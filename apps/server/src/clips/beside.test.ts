import { expect } from 'chai';
import { parse } from 'csv-parse/sync';
import { Report, type Batch, type DeliverySpec } from '@bevrin/contract';
import { measurementWith } from '../../../../tests/support/measurement.js';
import { textOfPdf } from '../../../../tests/support/pdf.js';
import { startTestServer, type TestServer } from '../../../../tests/support/test-server.js';

describe('a clip beside the others of its roll, in what leaves the house', function () {
  this.timeout(60_000);
  let server: TestServer;
  let batch: Batch;
  let grainy = '';

  before(async () => {
    server = await startTestServer();
    const made = await server.send('POST', '/batches', { name: 'Reel 3', specId: 'broadcast-hd' });
    batch = made.body as Batch;
    for (const n of [1, 2, 3, 4])
      await server.seed(batch.id, `A014_C00${n}.mov`, measurementWith({ noise: { lumaPct: 0.5 } }));
    const odd = await server.seed(batch.id, 'A014_C009.mov', measurementWith({ noise: { lumaPct: 1.4 } }));
    grainy = odd.id;
    await server.seed(batch.id, 'B001_C001.mov', measurementWith({ noise: { lumaPct: 1.4 } }));
  });
  after(() => server.stop());

  const out = async (file: string, of = `batches/${batch.id}`): Promise<Response> => {
    const answer = await fetch(`${server.url}/api/${of}/out/${file}`);
    expect(answer.status, file).to.equal(200);
    return answer;
  };

  it('stands in the report, the table and on the sheet, with what would match it', async () => {
    const { clips } = Report.parse(await (await out('report.json')).json());
    const told = clips.filter((c) => c.beside.length > 0);
    expect(told.map((c) => c.clip.file)).to.deep.equal(['A014_C009.mov']);
    expect(told[0].beside[0]).to.include({ name: 'noisier', value: 2.8, verdict: 'marginal', count: 4 });
    // The verdict of the file is its own.
    expect(told[0].verdict).to.equal(clips.find((c) => c.clip.file === 'B001_C001.mov')!.verdict);
    const rows = parse<Record<string, string>>(await (await out('findings.csv')).text(), { columns: true });
    const row = rows.find((r) => r.defect === 'beside A014')!;
    expect(row).to.include({ clip: 'A014_C009.mov', reading: 'noisier', value: '2.8', pass: '2', fail: '4' });
    const alone = Report.parse(await (await out('report.json', `clips/${grainy}`)).json());
    expect(alone.clips[0].beside, 'alone it is still set beside the batch').to.have.length(1);
    const sheet = await textOfPdf(await (await out('sheet.pdf', `clips/${grainy}`)).arrayBuffer());
    expect(sheet).to.contain('Beside the other clips of A014');
    expect(sheet).to.contain('Match its noise to the other 4 of A014');
  });

  it('is judged by the limits of its delivery, from the moment they are saved', async () => {
    const { body } = await server.send('GET', '/specs');
    const spec = (body as DeliverySpec[]).find((s) => s.id === 'broadcast-hd')!;
    expect(spec.beside.map((l) => l.name)).to.deep.equal(['softer', 'noisier', 'cleaner', 'level']);
    const save = (beside: DeliverySpec['beside'], replaces: number) =>
      server.send('POST', '/specs', { spec: { ...spec, beside }, replaces });
    const saved = await save([{ name: 'noisier', pass: 1.5, fail: 2 }], spec.version);
    expect(saved.status).to.be.within(200, 201);
    const strict = Report.parse(await (await out('report.json')).json());
    expect(strict.clips.flatMap((c) => c.beside.map((b) => b.verdict))).to.deep.equal(['fail']);
    const wrong = await save([{ name: 'noisier', pass: 3, fail: 2 }], spec.version + 1);
    expect(wrong.status, 'fail below pass').to.equal(400);
    await save([], spec.version + 1);
    const none = Report.parse(await (await out('report.json')).json());
    expect(none.clips.flatMap((c) => c.beside)).to.deep.equal([]);
  });
});
