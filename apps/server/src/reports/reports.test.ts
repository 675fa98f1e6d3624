import { expect } from 'chai';
import { parse } from 'csv-parse/sync';
import { Report, type Batch, type Clip } from '@bevrin/contract';
import { textOfPdf } from '../../../../tests/support/pdf.js';
import { measurementWith } from '../../../../tests/support/measurement.js';
import { startTestServer, type TestServer } from '../../../../tests/support/test-server.js';
import { timecode } from './edl.js';

interface OtioMarker {
  name: string;
  color: string;
  marked_range: { start_time: { value: number; rate: number }; duration: { value: number } };
}
interface OtioClip {
  name: string;
  source_range: { duration: { value: number; rate: number } };
  media_reference: { OTIO_SCHEMA: string; target_url: string };
  markers: OtioMarker[];
}

describe('what leaves the house', function () {
  this.timeout(60_000);
  let server: TestServer;
  let batch: Batch;
  let clip: Clip;

  before(async () => {
    server = await startTestServer();
    const made = await server.send('POST', '/batches', {
      name: 'Reel 12',
      production: 'The Tidewater Line',
      specId: 'broadcast-hd',
    });
    batch = made.body as Batch;
    clip = await server.seed(
      batch.id,
      'nïght "1", take 2.mov',
      measurementWith({
        noise: { lumaPct: 3 },
        flicker: { depthPct: 6, frequencyHz: 4, pattern: 'whole-frame' },
        hotPixels: { spots: null, spotCount: null },
      }),
    );
    await server.seed(batch.id, '=clean.mov', measurementWith());
    await server.send('POST', `/clips/${clip.id}/decisions`, {
      who: 'R. Hale',
      decision: { kind: 'waive', defect: 'flicker', reading: 'depthPct', reason: 'The lamps, meant to.' },
    });
  });
  after(() => server.stop());

  const out = async (file: string, of = `batches/${batch.id}`): Promise<Response> => {
    const answer = await fetch(`${server.url}/api/${of}/out/${file}`);
    expect(answer.status, file).to.equal(200);
    return answer;
  };

  it('is one JSON document by its published schema', async () => {
    const report = Report.parse(await (await out('report.json')).json());
    expect(report.clips.map((c) => c.clip.file)).to.deep.equal(['nïght "1", take 2.mov', '=clean.mov']);
    expect(report.clips[0].plan.waived[0].reason).to.equal('The lamps, meant to.');
  });

  it('is a table that reads back as it was written, names with commas and quotes too', async () => {
    const rows = parse<Record<string, string>>(await (await out('findings.csv')).text(), { columns: true });
    const noise = rows.find((r) => r.clip === 'nïght "1", take 2.mov' && r.defect === 'Noise')!;
    expect(noise).to.include({ value: '3', unit: '%', verdict: 'fail', spec: 'Broadcast HD' });
    const light = rows.find((r) => r.clip === 'nïght "1", take 2.mov' && r.defect === 'Flicker')!;
    expect(light['waived because']).to.equal('The lamps, meant to.');
    // Spots of which the reading said nothing are not within their limits.
    const untold = rows.filter((r) => r.verdict === 'not told');
    expect(untold.map((r) => r.reading)).to.include('spotCount');
    expect(untold.every((r) => r.value === '')).to.equal(true);
    expect(
      rows.some((r) => r.clip.startsWith('=')),
      'no cell is a formula',
    ).to.equal(false);
    const steps = parse<Record<string, string>>(await (await out('steps.csv')).text(), { columns: true });
    expect(steps.map((s) => s.treatment)).to.deep.equal(['Reduce noise']);
    expect(JSON.parse(steps[0].settings)).to.have.property('framesEachSide');
  });

  it('is a timeline with a marker for each finding that was not waived', async () => {
    const timeline = (await (await out('timeline.otio')).json()) as {
      OTIO_SCHEMA: string;
      tracks: { children: { kind: string; children: OtioClip[] }[] };
    };
    expect(timeline.OTIO_SCHEMA).to.equal('Timeline.1');
    const [track] = timeline.tracks.children;
    expect(track.kind).to.equal('Video');
    const [first, second] = track.children;
    expect(first.source_range.duration).to.deep.include({ value: 100, rate: 25 });
    expect(decodeURIComponent(first.media_reference.target_url)).to.contain('take 2.mov');
    const noise = first.markers.find((m) => m.name.startsWith('Noise'))!;
    expect(noise.color).to.equal('RED');
    expect(noise.marked_range.start_time.value).to.equal(0);
    expect(noise.marked_range.duration.value).to.equal(100);
    expect(first.markers.some((m) => m.name.startsWith('Flicker'))).to.equal(false);
    expect(second.markers.every((m) => m.color !== 'RED')).to.equal(true);
  });

  it('is an edit list with an event for each clip, back to back, and a comment for each mark', async () => {
    const lines = (await (await out('markers.edl')).text()).split('\r\n');
    expect(lines.slice(0, 2)).to.deep.equal(['TITLE: Reel 12', 'FCM: NON-DROP FRAME']);
    const events = lines.filter((l) => /^\d{3} /.test(l));
    expect(events).to.deep.equal([
      '001  AX       V     C        00:00:00:00 00:00:04:00 01:00:00:00 01:00:04:00',
      '002  AX       V     C        00:00:00:00 00:00:04:00 01:00:04:00 01:00:08:00',
    ]);
    expect(lines.find((l) => l.includes('Noise: fail'))).to.match(/^\* 00:00:00:00 TO 00:00:03:24 /);
    expect(
      lines.every((l) => /^[\x20-\x7e]*$/.test(l)),
      'plain letters only',
    ).to.equal(true);
    expect(timecode(90_061, 30000 / 1001)).to.equal('00:50:02:01');
  });

  it('is a sheet to print, with everything a repair artist needs in words', async () => {
    const bytes = await (await out('sheet.pdf', `clips/${clip.id}`)).arrayBuffer();
    const length = bytes.byteLength;
    const said = await textOfPdf(bytes);
    for (const wanted of [
      'nïght "1", take 2.mov',
      'Broadcast HD, version',
      'Reduce noise',
      'frames each side',
      'If it fails:',
      'Waived: The lamps, meant to.',
      'The Tidewater Line',
      'Rolling shutter',
      'Could not be told on this clip: Rolling shutter, wobble of the rows, lens spots',
    ])
      expect(said).to.contain(wanted);
    const whole = await (await out('sheet.pdf')).arrayBuffer();
    expect(whole.byteLength).to.be.greaterThan(length);
  });

  it('says which files there are when another is asked for, and that an unmeasured clip has no plan', async () => {
    const wrong = await server.send('GET', `/batches/${batch.id}/out/sheet.docx`);
    expect(wrong.status).to.equal(404);
    expect((wrong.body as { error: string }).error).to.contain('sheet.pdf');
  });
});
