import { expect } from 'chai';
import { renderStudy, type StudyClip } from '@bevrin/rig';
import { Bench } from '../../../../tests/recheck/pairs.js';
import { likenessOf } from './likeness.js';

const shot: StudyClip = {
  study: 'wall',
  width: 320,
  height: 180,
  frames: 24,
  camera: { panPx: 30, handPx: 2 },
  noisePct: [1, 1, 1],
  codec: 'h264Lossless',
  seed: 2301,
};

describe('which clip a file was made of, by its picture', function () {
  this.timeout(120_000);
  let bench: Bench;
  let original = '';
  let other = '';
  before(async () => {
    bench = await Bench.open();
    original = (await renderStudy(shot)).path;
    other = (await renderStudy({ ...shot, study: 'foliage', seed: 2302 })).path;
  });
  after(() => bench.close());

  it('is told of each that it may be made of, in their order', async () => {
    const repaired = bench.filtered(original, 'gblur=sigma=1,eq=brightness=0.03');
    const [foliage, wall] = await likenessOf([other, original], repaired);
    expect(foliage, 'another scene').to.equal(null);
    expect(wall).to.be.within(0.95, 1);
  });

  it('is told of a part that was cropped, too', async () => {
    const part = bench.filtered(
      original,
      'trim=start_frame=6:end_frame=20,setpts=PTS-STARTPTS,crop=288:162:16:9:exact=1,scale=320:180:flags=lanczos',
    );
    expect((await likenessOf([original], part))[0]).to.be.within(0.9, 1);
  });

  it('is none that runs at another rate, were it the film of what is television, and none of a frame or two', async () => {
    const film = bench.filtered(original, 'setpts=N/(24*TB)', '-r', '24');
    const television = bench.filtered(original, 'setpts=N*1001/(24000*TB)', '-r', '24000/1001');
    expect(await likenessOf([original, film], television)).to.deep.equal([null, null]);
    expect((await likenessOf([television], television))[0]).to.be.closeTo(1, 0.01);
    const short = bench.filtered(original, 'trim=end_frame=2');
    expect(await likenessOf([original], short)).to.deep.equal([null]);
  });

  it('says which file cannot be read', async () => {
    const said = await likenessOf([original], `${original}.gone`).catch((e: Error) => e.message);
    expect(said).to.contain('.gone');
  });
});
