import { expect } from 'chai';
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { PNG } from 'pngjs';
import type { Batch, Clip } from '@bevrin/contract';
import { onPages } from '../support/pages.js';
import type { TestServer } from '../support/test-server.js';

interface Known {
  readonly name: string;
  readonly pixelFormat: string;
  readonly depth: number;
  readonly range: 'limited' | 'full';
  readonly matrix: 'bt601' | 'bt709' | 'bt2020' | 'rgb';
  /** Codes of the planes, Y Cb Cr or G B R. */
  readonly codes: readonly [number, number, number];
  /** Samples of the second and third plane for one of the first, across and down. */
  readonly chroma: readonly [number, number];
}

const [W, H] = [96, 64];
const KNOWN: readonly Known[] = [
  {
    name: '709 8 bit 420',
    pixelFormat: 'yuv420p',
    depth: 8,
    range: 'limited',
    matrix: 'bt709',
    codes: [90, 110, 150],
    chroma: [2, 2],
  },
  {
    name: '601 8 bit 422',
    pixelFormat: 'yuv422p',
    depth: 8,
    range: 'limited',
    matrix: 'bt601',
    codes: [140, 100, 140],
    chroma: [2, 1],
  },
  {
    name: '709 10 bit 422',
    pixelFormat: 'yuv422p10le',
    depth: 10,
    range: 'limited',
    matrix: 'bt709',
    codes: [400, 470, 590],
    chroma: [2, 1],
  },
  {
    name: '2020 10 bit 420',
    pixelFormat: 'yuv420p10le',
    depth: 10,
    range: 'limited',
    matrix: 'bt2020',
    codes: [610, 540, 480],
    chroma: [2, 2],
  },
  {
    name: '709 full 444',
    pixelFormat: 'yuv444p',
    depth: 8,
    range: 'full',
    matrix: 'bt709',
    codes: [77, 140, 120],
    chroma: [1, 1],
  },
  {
    name: '2020 12 bit 444',
    pixelFormat: 'yuv444p12le',
    depth: 12,
    range: 'limited',
    matrix: 'bt2020',
    codes: [1800, 2100, 1950],
    chroma: [1, 1],
  },
  {
    name: 'RGB 10 bit',
    pixelFormat: 'gbrp10le',
    depth: 10,
    range: 'full',
    matrix: 'rgb',
    codes: [300, 610, 520],
    chroma: [1, 1],
  },
];

const FFMPEG_MATRIX = { bt601: 'smpte170m', bt709: 'bt709', bt2020: 'bt2020nc', rgb: 'rgb' } as const;
const WEIGHTS = { bt601: [0.299, 0.114], bt709: [0.2126, 0.0722], bt2020: [0.2627, 0.0593] } as const;

/** R′G′B′ 0–255 by the definition in the recommendations, independently of what is tested. */
const expectedRgb = ({ depth, range, matrix, codes }: Known): number[] => {
  const top = 2 ** depth - 1;
  if (matrix === 'rgb') return [codes[2], codes[0], codes[1]].map((c) => (255 * c) / top);
  const step = 2 ** (depth - 8);
  const [kr, kb] = WEIGHTS[matrix];
  const y = range === 'limited' ? (codes[0] / step - 16) / 219 : codes[0] / top;
  const [u, v] = [codes[1], codes[2]].map((c) =>
    range === 'limited' ? (c / step - 128) / 224 : (c - 128 * step) / top,
  );
  const red = y + 2 * (1 - kr) * v;
  const blue = y + 2 * (1 - kb) * u;
  return [red, (y - kr * red - kb * blue) / (1 - kr - kb), blue].map((c) => 255 * c);
};

describe('pixels', function () {
  this.timeout(180_000);
  const open = onPages();
  let server: TestServer;
  let page: Page;
  let clips: Clip[];

  before(async () => {
    ({ server, page } = await open());
    const batch = (await server.send('POST', '/batches', { name: 'Charts', specId: 'broadcast-hd' }))
      .body as Batch;
    for (const known of KNOWN) writeClip(known, join(server.media, `${known.name}.mkv`));
    const { body } = await server.send('POST', `/batches/${batch.id}/clips`, { path: server.media });
    clips = (body as { added: Clip[] }).added;
    for (const { id } of clips) await server.settled(id);
  });

  const writeClip = (known: Known, path: string): void => {
    const { pixelFormat, depth, codes, chroma, range, matrix } = known;
    const planes = codes.map((code, i) => {
      const count = i === 0 ? W * H : (W / chroma[0]) * (H / chroma[1]);
      return depth > 8 ? new Uint16Array(count).fill(code) : new Uint8Array(count).fill(code);
    });
    const frame = Buffer.concat(planes.map((p) => Buffer.from(p.buffer)));
    const tags = ['-colorspace', FFMPEG_MATRIX[matrix], '-color_range', range === 'full' ? 'pc' : 'tv'];
    const raw = ['-f', 'rawvideo', '-pixel_format', pixelFormat, '-video_size', `${W}x${H}`, ...tags];
    const { status, stderr } = spawnSync(
      'ffmpeg',
      ['-v', 'error', '-y', ...raw, '-i', 'pipe:0', '-c:v', 'ffv1', ...tags, path],
      { input: Buffer.concat([frame, frame, frame]), encoding: 'utf8' },
    );
    expect(status, stderr).to.equal(0);
  };
  const clipOf = ({ name }: Known): Clip => clips.find((c) => c.name === `${name}.mkv`)!;

  for (const known of KNOWN)
    it(`of ${known.name} are what was stored: codes, still and page`, async () => {
      const { id, batchId } = clipOf(known);
      const stored = await fetch(`${server.url}/api/clips/${id}/frames/1.planes`);
      const bytes = await stored.arrayBuffer();
      const codes = known.depth > 8 ? new Uint16Array(bytes) : new Uint8Array(bytes);
      const second = W * H;
      const third = second + (W / known.chroma[0]) * (H / known.chroma[1]);
      expect([codes[0], codes[second], codes[third]]).to.deep.equal([...known.codes]);

      const wanted = expectedRgb(known);
      const png = await (await fetch(`${server.url}/api/clips/${id}/frames/1.png`)).arrayBuffer();
      const still = PNG.sync.read(Buffer.from(png));
      const at = 4 * (32 * W + 48);
      wanted.forEach((v, c) => expect(still.data[at + c], `still, channel ${c}`).to.be.closeTo(v, 1));

      await page.goto(`${server.url}/batches/${batchId}/clips/${id}`);
      await page.getByText('frame 0, exact pixels', { exact: true }).waitFor();
      await page.keyboard.press('1');
      await page.waitForTimeout(200);
      const seen = await page
        .getByRole('img', { name: /frame 0$/ })
        .first()
        .evaluate((node) => {
          const canvas = node as HTMLCanvasElement;
          return [...canvas.getContext('2d')!.getImageData(canvas.width / 2, canvas.height / 2, 1, 1).data];
        });
      wanted.forEach((v, c) => expect(seen[c], `page, channel ${c}`).to.be.closeTo(v, 1));
    });
});
