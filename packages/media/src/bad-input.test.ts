import { expect } from 'chai';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { encodeFrames } from './encode.js';
import { measureClip } from './measure-clip.js';
import { findSpec, shippedSpecs } from '@bevrin/specs';
import { run } from './tools.js';

const [W, H] = [320, 180];
const frames = (count: number): Uint8Array[] =>
  Array.from({ length: count }, (_, f) =>
    Uint8Array.from({ length: (W * H * 3) / 2 }, (_, i) => 60 + ((i * 7 + f * 13 + ((i * i) % 31)) % 120)),
  );

describe('bad input', function () {
  this.timeout(60_000);
  let folder = '';
  before(async () => {
    folder = await mkdtemp(join(tmpdir(), 'bevrin-bad-'));
    await encodeFrames(
      { width: W, height: H, frameRate: '25/1', pixelFormat: 'yuv420p' },
      'h264',
      frames(50),
      join(folder, 'good.mp4'),
    );
  });
  after(() => rm(folder, { recursive: true }));

  const complaintAbout = async (path: string): Promise<string> => {
    const outcome = await measureClip(path).then(
      () => 'measured',
      (error: Error) => `${error.name}: ${error.message}`,
    );
    expect(outcome).to.match(/^ClipUnreadable: /);
    expect(outcome).to.not.contain('\n');
    return outcome;
  };
  const written = async (name: string, content: string | Uint8Array): Promise<string> => {
    const path = join(folder, name);
    await writeFile(path, content);
    return path;
  };

  it('says what is wrong with the file, which file, and what to do next', async () => {
    expect(await complaintAbout(join(folder, 'gone.mov'))).to.contain(
      'gone.mov: there is no such file. Check the path.',
    );
    expect(await complaintAbout(await written('empty.mov', '')))
      .to.contain('empty.mov: the file is empty')
      .and.to.contain('Ask the sender');
    expect(
      await complaintAbout(
        await written('letter.mov', 'Dear all,\nplease find the rushes enclosed.\n'.repeat(40)),
      ),
    ).to.contain('letter.mov: this is not a media file');
    expect(await complaintAbout(folder)).to.contain('holds no numbered stills');
  });

  it('notices a file that was cut short, with its index at the end or at the front', async () => {
    const whole = await readFile(join(folder, 'good.mp4'));
    expect(
      await complaintAbout(await written('front.mp4', whole.subarray(0, Math.floor(whole.length * 0.6)))),
    ).to.match(/front\.mp4: .*cut short/);
    await run('ffmpeg', [
      '-v',
      'error',
      '-i',
      join(folder, 'good.mp4'),
      '-c',
      'copy',
      join(folder, 'late.mp4'),
    ]);
    const late = await readFile(join(folder, 'late.mp4'));
    expect(
      await complaintAbout(await written('end.mp4', late.subarray(0, Math.floor(late.length * 0.6)))),
    ).to.match(/end\.mp4: .*cut short/);
  });

  it('says that sound alone is no picture', async () => {
    await run('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', 'sine=d=1', join(folder, 'sound.m4a')]);
    expect(await complaintAbout(join(folder, 'sound.m4a'))).to.contain('sound but no picture');
  });

  it('opens no playlist that points at other files', async () => {
    const list = await written('list.mov', `ffconcat version 1.0\nfile ${join(folder, 'good.mp4')}\n`);
    expect(await complaintAbout(list)).to.contain('not a media file');
  });

  it('measures a file whatever its name is', async () => {
    for (const name of [
      `it's "quoted" and spaced.mp4`,
      'two\nlines.mp4',
      'Größe 検査 🎞.mp4',
      '-y.mp4',
      'percent %03d.mp4',
      'a:b.mp4',
    ]) {
      const path = await written(name, await readFile(join(folder, 'good.mp4')));
      const { clip } = await measureClip(path, { overrides: { range: { startFrame: 0, endFrame: 2 } } });
      expect(clip.frames, name).to.equal(50);
      expect(clip.file, name).to.not.match(/\n/);
    }
  });

  it('measures one frame, 16×16 pixels and odd sizes, and says what it cannot know', async () => {
    const make = async (name: string, ...args: string[]): Promise<string> => {
      const path = join(folder, name);
      const { stderr } = await run('ffmpeg', [
        '-v',
        'error',
        '-y',
        '-i',
        join(folder, 'good.mp4'),
        ...args,
        path,
      ]);
      expect(stderr).to.equal('');
      return path;
    };
    const one = await measureClip(await make('one.mp4', '-frames:v', '1'));
    expect(one.clip.frames).to.equal(1);
    expect(one.readings.noise.reason).to.contain('only one frame');
    const tiny = await measureClip(await make('tiny.mkv', '-vf', 'scale=16:16', '-c:v', 'ffv1'));
    expect(tiny.readings.noise.reason).to.contain('16×16');
    const odd = await measureClip(await make('odd.mkv', '-vf', 'scale=321:179', '-c:v', 'ffv1'));
    expect(odd.clip).to.include({ width: 321, height: 179, frames: 50 });
  });

  it('names the delivery specs there are, and the field of one that is wrong', async () => {
    expect([...(await shippedSpecs()).keys()]).to.include.members([
      'broadcast-hd',
      'cinema-master',
      'keying-plate',
    ]);
    const problem = async (id: string): Promise<string> =>
      findSpec(id).then(
        () => 'found',
        (error: Error) => error.message,
      );
    expect(await problem('nope')).to.contain('broadcast-hd');
    expect(await problem(await written('spec.json', '{ "schema": "bevrin.spec/1", }'))).to.contain(
      'spec.json: this is not JSON',
    );
    const spec = {
      ...(await findSpec('broadcast-hd')),
      limits: [{ defect: 'noise', reading: 'lumaPct', unit: '%', pass: 2, fail: 1, weight: 1 }],
    };
    expect(await problem(await written('reversed.json', JSON.stringify(spec))))
      .to.contain('limits.0.fail')
      .and.to.contain('larger than pass');
  });
});
