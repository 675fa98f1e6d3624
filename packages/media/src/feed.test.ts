import { expect } from 'chai';
import { createHash } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PNG } from 'pngjs';
import { planFeed, type Frame } from '@bevrin/core';
import { CODECS, encodeFrames, type Codec } from './encode.js';
import { decode } from './feed.js';
import { measureClip, measureFrames } from './measure-clip.js';
import { probeClip, type ProbedClip } from './probe.js';
import { openSource } from './source.js';
import { stillFrame } from './stills.js';

const [W, H] = [130, 74];
const FRAMES = 60;

/** A code that tells frame, place and plane apart. */
const code = (plane: number, x: number, y: number, frame: number, top: number): number =>
  64 + (((7 * x + 13 * y + 31 * plane + 11 * frame) * (top / 256)) % (top - 128));

const drawn = function* (bitDepth: 8 | 10): Generator<Uint8Array> {
  const top = 2 ** bitDepth;
  for (let f = 0; f < FRAMES; f++) {
    const codes: number[] = [];
    for (let p = 0; p < 3; p++)
      for (let y = 0; y < (p ? H / 2 : H); y++)
        for (let x = 0; x < (p ? W / 2 : W); x++) codes.push(code(p, x, y, f, top));
    yield bitDepth === 8 ? Uint8Array.from(codes) : new Uint8Array(Uint16Array.from(codes).buffer);
  }
};

describe('the frame feed', function () {
  this.timeout(60_000);
  let folder = '';
  before(async () => void (folder = await mkdtemp(join(tmpdir(), 'bevrin-feed-'))));
  after(() => rm(folder, { recursive: true }));

  const clipOf = async (codec: Codec, bitDepth: 8 | 10): Promise<ProbedClip> => {
    const path = join(folder, `${codec}${bitDepth}.${CODECS[codec].ending}`);
    await encodeFrames(
      { width: W, height: H, frameRate: '24/1', pixelFormat: bitDepth === 8 ? 'yuv420p' : 'yuv420p10le' },
      codec,
      drawn(bitDepth),
      path,
    );
    return probeClip(await openSource(path));
  };

  it('hands out the same where the frames are at hand, of the whole clip and of a range', async () => {
    for (const bitDepth of [8, 10] as const) {
      const clip = await clipOf('ffv1', bitDepth);
      const all = [...drawn(bitDepth)];
      for (const range of [undefined, { startFrame: 7, endFrame: 30 }]) {
        const seen = async (frames?: readonly Uint8Array[]): Promise<string[]> => {
          const hashes: string[] = [];
          const facts = range ? { ...clip.facts, frames: 24 } : clip.facts;
          const count = await decode(
            clip,
            planFeed(facts, range),
            ({ view, index, planes }: Frame) => {
              const hash = createHash('sha1');
              for (const { samples } of planes)
                hash.update(new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength));
              hashes.push(`${view} ${index} ${hash.digest('hex')}`);
            },
            { frames },
          );
          expect(count).to.equal(facts.frames);
          return hashes.sort();
        };
        const decoded = await seen();
        expect(decoded.length).to.be.greaterThan(24);
        expect(await seen(range ? all.slice(7, 31) : all)).to.deep.equal(decoded);
      }
    }
  });

  it('measures frames at hand as the file that holds them, and some of them as a clip of their own', async () => {
    const clip = await clipOf('ffv1', 10);
    const all = [...drawn(10)];
    const file = await measureClip(clip.source.path);
    expect(await measureFrames(clip, all)).to.deep.equal(file);
    const some = await measureFrames(clip, all.slice(0, 25));
    expect(some.clip).to.include({ frames: 25, file: file.clip.file, bitDepth: 10 });
    expect(some.clip.durationSec).to.be.closeTo(25 / 24, 1e-6);
  });

  it('hands out one field of a clip in fields, and beside it luma as it is stored', async () => {
    const { facts, ...clip } = await clipOf('h264Lossless', 8);
    const inFields = { ...clip, facts: { ...facts, scan: 'interlaced' as const } };
    let [seen, wrong] = [0, 0];
    await decode(inFields, planFeed(inFields.facts), ({ view, index, planes, woven }: Frame) => {
      if (view !== 'burst') return;
      seen++;
      expect(planes.map((p) => p.height)).to.deep.equal([H / 2, Math.ceil(H / 4), Math.ceil(H / 4)]);
      expect(woven?.height).to.equal(H);
      const check = (v: number, p: number, x: number, y: number): void =>
        void (wrong += v === code(p, x, y, index, 256) ? 0 : 1);
      planes.forEach(({ width, samples }, p) =>
        samples.forEach((v, i) => check(v, p, i % width, 2 * Math.floor(i / width))),
      );
      woven?.samples.forEach((v, i) => check(v, 0, i % W, Math.floor(i / W)));
    });
    expect(seen).to.be.greaterThan(10);
    expect(wrong).to.equal(0);
  });

  for (const bitDepth of [8, 10] as const)
    it(`hands out every code of a ${bitDepth}-bit clip as it was stored, and says which frame it is`, async () => {
      const clip = await clipOf(bitDepth === 8 ? 'h264Lossless' : 'ffv1', bitDepth);
      const plan = planFeed(clip.facts);
      const indices: number[] = [];
      let wrong = 0;
      const frames = await decode(clip, plan, ({ view, index, planes }: Frame) => {
        if (view !== 'burst') return;
        indices.push(index);
        planes.forEach(({ width, samples }, p) =>
          samples.forEach(
            (v, i) =>
              void (wrong += v === code(p, i % width, Math.floor(i / width), index, 2 ** bitDepth) ? 0 : 1),
          ),
        );
      });
      expect(frames).to.equal(FRAMES);
      expect(wrong).to.equal(0);
      const { first, stride, length, count } = plan.bursts;
      expect(indices).to.deep.equal(
        Array.from(
          { length: count * length },
          (_, n) => first + Math.floor(n / length) * stride + (n % length),
        ),
      );
    });

  for (const [width, height] of [
    [128, 72],
    [640, 360],
  ])
    for (const bitDepth of [8, 10] as const)
      it(`keeps the levels of the small view of ${width}×${height} at ${bitDepth} bits, whatever the range is tagged as`, async () => {
        const k = bitDepth === 8 ? 1 : 4;
        const path = join(folder, `flat${width}-${bitDepth}.mkv`);
        const codes = Uint16Array.from({ length: (width * height * 3) / 2 }, (_, i) =>
          i < width * height ? 81 * k : 128 * k,
        );
        const flat = bitDepth === 8 ? Uint8Array.from(codes) : new Uint8Array(codes.buffer);
        await encodeFrames(
          { width, height, frameRate: '24/1', pixelFormat: bitDepth === 8 ? 'yuv420p' : 'yuv420p10le' },
          'ffv1',
          [flat, flat, flat],
          path,
        );
        const clip = await probeClip(await openSource(path));
        const seen = new Set<number>();
        await decode(
          clip,
          planFeed(clip.facts),
          ({ view, planes }) => void (view === 'small' && planes[0].samples.forEach((v) => seen.add(v))),
        );
        expect([...seen]).to.deep.equal([81 * 256]);
      });

  it('shows exactly the frame that was asked for, from the first to the last', async () => {
    const clip = await clipOf('h264', 8);
    const exact = await clipOf('ffv1', 10);
    for (const frame of [0, 1, 29, 30, FRAMES - 1])
      for (const [bitDepth, source] of [
        [8, clip],
        [10, exact],
      ] as const) {
        const png = PNG.sync.read(await stillFrame(source, frame));
        expect([png.width, png.height]).to.deep.equal([W, H]);
        const top = 2 ** bitDepth;
        let [error, other] = [0, 0];
        for (let y = 8; y < H - 8; y += 5)
          for (let x = 8; x < W - 8; x += 5) {
            const i = 4 * (y * W + x);
            const luma = (0.2126 * png.data[i] + 0.7152 * png.data[i + 1] + 0.0722 * png.data[i + 2]) / 255;
            const level = (f: number): number => (code(0, x, y, f, top) / (top / 256) - 16) / 219;
            error += Math.abs(luma - level(frame));
            other += Math.abs(luma - level(frame + 1));
          }
        expect(error, `frame ${frame}, ${bitDepth} bit`).to.be.lessThan(0.6 * other);
      }
  });

  it('says which frames there are when another is asked for', async () => {
    const clip = await clipOf('h264', 8);
    let message = '';
    await stillFrame(clip, 500).catch((error: Error) => (message = error.message));
    expect(message).to.contain('h2648.mp4').and.to.contain('59');
  });
});
