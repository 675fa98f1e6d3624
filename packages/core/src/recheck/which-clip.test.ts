import { expect } from 'chai';
import { clipsNamed } from './which-clip.js';

describe('the clip that a repaired file is made of, by its name', () => {
  const clips = ['A014_C003.mov', 'A014_C003_insert.mov', 'A014.C004.mxf', 'B002 été.mp4', '____.mov'].map(
    (name) => ({ name }),
  );
  const named = (file: string): string[] => clipsNamed(file, clips).map((c) => c.name);

  it('is the one whose words it begins with, however they are joined', () => {
    expect(named('A014_C003_repaired_v2.mov')).to.deep.equal(['A014_C003.mov']);
    expect(named('a014-c003 rep.mkv')).to.deep.equal(['A014_C003.mov']);
    expect(named('A014_C004.mov')).to.deep.equal(['A014.C004.mxf']);
    expect(named('B002_été_v3.mov')).to.deep.equal(['B002 été.mp4']);
  });

  it('is the one with more words in common where two fit', () => {
    expect(named('A014_C003_insert_v2.mov')).to.deep.equal(['A014_C003_insert.mov']);
  });

  it('is none where a word only begins alike, or nothing does', () => {
    expect(named('A014_C0031.mov')).to.deep.equal([]);
    expect(named('rep_A014_C003.mov')).to.deep.equal([]);
    expect(named('.mov')).to.deep.equal([]);
  });

  it('is not certain where two clips have the same words', () => {
    expect(clipsNamed('x 1 v2.mov', [{ name: 'x_1.mov' }, { name: 'X 1.mxf' }])).to.have.length(2);
  });
});
