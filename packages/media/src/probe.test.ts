import { expect } from 'chai';
import { mkdir, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { CODECS, encodeFrames, type Codec } from './encode.js';
import { measureClip } from './measure-clip.js';
import { probeClip } from './probe.js';
import { openSource } from './source.js';
import { run } from './tools.js';

const [W, H, FRAMES] = [256, 144, 6];

const greyFrames = function* (bytes: number): Generator<Uint8Array> {
  for (let f = 0; f < FRAMES; f++) yield new Uint8Array(bytes).fill(100 + f);
};

describe('the facts of a clip', function () {
  this.timeout(60_000);
  let folder = '';
  before(async () => void (folder = await mkdtemp(join(tmpdir(), 'bevrin-probe-'))));
  after(() => rm(folder, { recursive: true }));

  const made = async (
    codec: Codec,
    pixelFormat: string,
    bytesPerPixel: number,
    frameRate = '25/1',
  ): Promise<string> => {
    const path = join(folder, `${codec}-${pixelFormat}.${CODECS[codec].ending}`);
    await encodeFrames(
      { width: W, height: H, frameRate, pixelFormat },
      codec,
      greyFrames(W * H * bytesPerPixel),
      path,
    );
    return path;
  };

  const kinds: [Codec, string, number, { codec: string; bitDepth: number; container: string }][] = [
    ['h264', 'yuv420p', 1.5, { codec: 'h264', bitDepth: 8, container: 'mov' }],
    ['hevc', 'yuv420p10le', 3, { codec: 'hevc', bitDepth: 10, container: 'mov' }],
    ['prores', 'yuv422p10le', 4, { codec: 'prores', bitDepth: 10, container: 'mov' }],
    ['dnxhd', 'yuv422p10le', 4, { codec: 'dnxhd', bitDepth: 10, container: 'mxf' }],
    ['mpeg2', 'yuv420p', 1.5, { codec: 'mpeg2video', bitDepth: 8, container: 'mpeg' }],
    ['ffv1', 'yuv444p10le', 6, { codec: 'ffv1', bitDepth: 10, container: 'matroska' }],
    ['vp9', 'yuv420p', 1.5, { codec: 'vp9', bitDepth: 8, container: 'matroska' }],
    ['av1', 'yuv420p', 1.5, { codec: 'av1', bitDepth: 8, container: 'matroska' }],
    ['mjpeg', 'yuvj420p', 1.5, { codec: 'mjpeg', bitDepth: 8, container: 'avi' }],
    ['raw', 'yuv422p', 2, { codec: 'rawvideo', bitDepth: 8, container: 'yuv4mpegpipe' }],
  ];
  for (const [codec, pixelFormat, bytes, truth] of kinds)
    it(`reads ${codec} in ${CODECS[codec].ending}`, async () => {
      const { facts } = await probeClip(await openSource(await made(codec, pixelFormat, bytes)));
      expect(facts).to.include({
        width: W,
        height: H,
        frameRate: '25/1',
        variableFrameRate: false,
        rotation: 0,
        ...truth,
      });
      expect(facts.durationSec).to.be.closeTo(FRAMES / 25, 0.09);
      expect(facts.range).to.equal(pixelFormat.startsWith('yuvj') ? 'full' : 'limited');
    });

  it('keeps a rational rate as it is, and says what it assumed', async () => {
    const path = await made('raw', 'yuv420p', 1.5, '30000/1001');
    const { facts } = await probeClip(await openSource(path));
    expect(facts.frameRate).to.equal('30000/1001');
    expect(facts.assumed).to.include.members(['matrix', 'transfer']);
    expect(
      (await probeClip(await openSource(await made('h264', 'yuv420p', 1.5)))).facts.assumed,
    ).to.not.include('matrix');
  });

  it('sees variable rate, interlaced scan, turned pictures and wide pixels', async () => {
    const h264 = await made('h264', 'yuv420p', 1.5);
    const make = async (name: string, args: string[], input = h264): Promise<string> => {
      const path = join(folder, name);
      const { stderr } = await run('ffmpeg', ['-v', 'error', '-y', '-i', input, ...args, path]);
      expect(stderr).to.equal('');
      return path;
    };
    const variable = await make('variable.mp4', [
      '-vf',
      "setpts='if(lt(N,3),N,2*N-2)/(25*TB)'",
      '-vsync',
      'vfr',
      '-c:v',
      'libx264',
    ]);
    expect((await probeClip(await openSource(variable))).facts.variableFrameRate).to.equal(true);
    const fields = await make('fields.mpg', ['-c:v', 'mpeg2video', '-flags', '+ildct+ilme', '-top', '1']);
    expect((await probeClip(await openSource(fields))).facts).to.include({
      scan: 'interlaced',
      fieldOrder: 'top',
    });
    const lower = await make('lower.mpg', ['-c:v', 'mpeg2video', '-flags', '+ildct+ilme', '-top', '0']);
    expect((await probeClip(await openSource(lower))).facts.fieldOrder).to.equal('bottom');
    expect((await probeClip(await openSource(h264))).facts.fieldOrder).to.equal(null);
    const turned = await make('turned.mp4', ['-c', 'copy', '-metadata:s:v', 'rotate=90']);
    expect((await probeClip(await openSource(turned))).facts).to.include({
      rotation: 270,
      width: H,
      height: W,
    });
    const wide = await make('wide.mp4', ['-vf', 'setsar=64/45', '-c:v', 'libx264']);
    expect((await probeClip(await openSource(wide))).facts.pixelAspect).to.be.closeTo(64 / 45, 1e-6);
  });

  it('takes an AVI that leaves slots empty for whole, and one that ends early for cut short', async () => {
    const path = join(folder, 'gaps.avi');
    const drawn = ['-f', 'lavfi', '-i', 'testsrc2=size=160x90:rate=25:duration=2'];
    // One frame in five was dropped by the capture: its slot is there, and empty.
    const dropped = ['-vf', "select='not(eq(mod(n,5),3))'", '-fps_mode', 'vfr', '-c:v', 'mpeg4'];
    await run('ffmpeg', ['-v', 'error', ...drawn, ...dropped, path]);
    const clip = await probeClip(await openSource(path));
    expect(clip.facts).to.include({ frames: 40, variableFrameRate: true });
    expect(clip.facts.durationSec).to.be.closeTo(2, 0.05);
    expect((await measureClip(path, { only: ['shake'] })).clip.frames).to.equal(40);
    const cut = join(folder, 'cut.avi');
    const stored = await readFile(path);
    await writeFile(cut, stored.subarray(0, Math.floor(stored.length * 0.6)));
    let complaint = '';
    await measureClip(cut, { only: ['shake'] }).catch((error: Error) => (complaint = error.message));
    expect(complaint).to.match(/cut\.avi: .*cut short/);
  });

  it('takes numbered stills as a clip whose rate is assumed', async () => {
    const stills = join(folder, 'shot %2 é');
    await mkdir(stills);
    await run('ffmpeg', [
      '-v',
      'error',
      '-i',
      await made('h264', 'yuv420p', 1.5),
      '-start_number',
      '86',
      join(stills.replace('%', '%%'), 'still.%04d.png'),
    ]);
    for (const path of [stills, join(stills, 'still.%04d.png')]) {
      const { facts } = await probeClip(await openSource(path));
      expect(facts).to.include({ width: W, frames: FRAMES, codec: 'png', matrix: 'rgb', range: 'full' });
      expect(facts.assumed).to.include('frameRate');
    }
    await rm(join(stills, 'still.0088.png'));
    let message = '';
    await openSource(stills).catch((error: Error) => (message = error.message));
    expect(message).to.contain('still 88 is missing');
  });
});
