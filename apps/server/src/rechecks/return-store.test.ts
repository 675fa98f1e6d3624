import { expect } from 'chai';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { Upload } from '@tus/server';
import { ReturnStore } from './return-store.js';

const [CLIP, OTHER] = ['11111111-1111-4111-8111-111111111111', '22222222-2222-4222-8222-222222222222'];
const ROOM = { paused: false } as never;

describe('repaired files on their way in', () => {
  let folder = '';
  let store: ReturnStore;
  beforeEach(async () => {
    folder = await mkdtemp(join(tmpdir(), 'bevrin-returns-'));
    store = await ReturnStore.open(folder, ROOM);
  });
  afterEach(() => rm(folder, { recursive: true, force: true }));

  const begun = async (
    id: string,
    clipId: string,
    filename: string,
    come: string,
    size = 6,
  ): Promise<void> => {
    const created = new Date().toISOString();
    await store.create(
      new Upload({ id, size, offset: 0, metadata: { clipId, filename }, creation_date: created }),
    );
    await store.write(Readable.from([Buffer.from(come)]), id, 0);
  };
  const refused = async (id: string, clipId = CLIP): Promise<string> => {
    const error = await store.taken(id, clipId, join(folder, 'clip')).catch((e: Error) => e);
    return error instanceof Error ? error.message : 'taken';
  };

  it('are told to the clip that they are for, with how much has come', async () => {
    await begun('aa', CLIP, 'shot_v2.mov', 'abc');
    await begun('bb', OTHER, 'other.mov', 'abcd');
    expect(await store.openFor(CLIP)).to.deep.equal([
      { uploadId: 'aa', name: 'shot_v2.mov', size: 6, offset: 3, lastModified: null },
    ]);
  });

  it('are moved to their clip once they are whole, under a plain name, however often it is asked', async () => {
    await begun('aa', CLIP, '../../etc/shot?v2.mov', 'abcdef');
    const path = await store.taken('aa', CLIP, join(folder, 'clip'));
    expect(path).to.equal(join(folder, 'clip', 'returned', 'aa', 'shot_v2.mov'));
    expect(await readFile(path, 'utf8')).to.equal('abcdef');
    expect(await store.taken('aa', CLIP, join(folder, 'clip'))).to.equal(path);
    await store.done('aa');
    expect(await refused('aa')).to.contain('no such file on its way');
  });

  it('are not taken half, by another clip, or from anywhere else', async () => {
    await begun('aa', CLIP, 'shot_v2.mov', 'abc');
    expect(await refused('aa')).to.equal(
      'shot_v2.mov: it has not come whole. Send the same file again: it goes on where it stopped.',
    );
    expect(await refused('aa', OTHER)).to.contain('no such file on its way');
    await writeFile(join(folder, 'secret.json'), JSON.stringify({ size: 1, metadata: { clipId: CLIP } }));
    expect(await refused('../secret')).to.contain('no such file on its way');
  });

  it('go after a week in which they did not come whole', async () => {
    await begun('old', CLIP, 'old.mov', 'abc');
    await begun('new', CLIP, 'new.mov', 'abc');
    const note = join(folder, 'returns', 'old.json');
    const said = JSON.parse(await readFile(note, 'utf8')) as { creation_date: string };
    said.creation_date = new Date(Date.now() - 8 * 24 * 3600_000).toISOString();
    await writeFile(note, JSON.stringify(said));
    const again = await ReturnStore.open(folder, ROOM);
    expect((await again.openFor(CLIP)).map((u) => u.name)).to.deep.equal(['new.mov']);
    expect((await readdir(join(folder, 'returns'))).some((f) => f.startsWith('old'))).to.equal(false);
  });
});
