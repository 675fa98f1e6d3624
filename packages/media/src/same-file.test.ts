import { expect } from 'chai';
import { mkdtemp, rm, utimes, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { oncePerFile } from './same-file.js';
import type { Source } from './source.js';

describe('what is read from a file once', () => {
  let folder = '';
  let path = '';
  let reads = 0;
  const source = (stills: number | null = null): Source => ({ path, input: [], stills, files: [path] });
  const read = oncePerFile(async (_: Source, asked: { fails?: boolean; n: number }) => {
    reads++;
    if (asked.fails) throw new Error('not readable');
    return asked.n;
  });
  beforeEach(async () => {
    folder = await mkdtemp(join(tmpdir(), 'bevrin-same-'));
    path = join(folder, 'clip.mov');
    await writeFile(path, 'first');
    reads = 0;
  });
  afterEach(() => rm(folder, { recursive: true }));

  it('is read once by all who ask at once and later, and anew for who asks something else', async () => {
    expect(await Promise.all([read(source(), { n: 1 }), read(source(), { n: 1 })])).to.deep.equal([1, 1]);
    expect(await read(source(), { n: 1 })).to.equal(1);
    expect(reads).to.equal(1);
    expect(await read(source(), { n: 2 })).to.equal(2);
    expect(reads).to.equal(2);
  });

  it('is read anew once the file was written to, were it as long and as old as before', async () => {
    const long = new Date('2026-01-01');
    await utimes(path, long, long);
    await read(source(), { n: 1 });
    await writeFile(path, 'other');
    await utimes(path, long, long);
    await read(source(), { n: 1 });
    expect(reads).to.equal(2);
  });

  it('is tried anew where it failed, where the file is gone, and of stills', async () => {
    for (const wanted of [1, 2]) {
      const said = await read(source(), { n: 1, fails: true }).catch((e: Error) => e.message);
      expect([said, reads]).to.deep.equal(['not readable', wanted]);
    }
    await read(source(30), { n: 1 });
    await read(source(30), { n: 1 });
    expect(reads).to.equal(4);
    await rm(path);
    await read(source(), { n: 1 });
    await read(source(), { n: 1 });
    expect(reads).to.equal(6);
  });
});
