import { expect } from 'chai';
import { USUAL_HARM_LIMITS, type Measurement } from '#document';
import { measurementWith } from '../../../../tests/support/measurement.js';
import { factsChanged, softPlaces, timesWrong } from './anew.js';
import type { HarmedWindow } from './combine.js';

const was = measurementWith();
const changed = (clip: Partial<Measurement['clip']>) =>
  factsChanged(was, { ...was, clip: { ...was.clip, ...clip } }).map((f) => [f.what, f.verdict, f.because]);

describe('facts of a file that came back', () => {
  it('are nothing new where they are those of the original, whatever it is packed in', () => {
    expect(changed({ file: 'x.mkv', container: 'matroska', codec: 'ffv1', frames: 60 })).to.deep.equal([]);
    expect(changed({ frameRate: '50/2' })).to.deep.equal([]);
    expect(changed({ bitDepth: 12 }), 'more than there were').to.deep.equal([]);
  });

  it('fail where they show the picture wrong, and say how', () => {
    expect(changed({ frameRate: '24/1' })).to.deep.equal([
      ['frameRate', 'fail', 'It runs at 24 frames a second, the original at 25.'],
    ]);
    expect(changed({ range: 'full' })[0].slice(0, 2)).to.deep.equal(['range', 'fail']);
    expect(changed({ matrix: 'bt601', transfer: 'pq' }).map((c) => c[0])).to.deep.equal([
      'matrix',
      'transfer',
    ]);
    expect(changed({ scan: 'interlaced' })[0][2]).to.equal(
      "Its frames are interlaced, the original's progressive.",
    );
    expect(changed({ variableFrameRate: true })[0][0]).to.equal('variableFrameRate');
  });

  it('are remarked where there is less of the picture', () => {
    expect(changed({ bitDepth: 8, width: 1280, height: 720 })).to.deep.equal([
      ['bitDepth', 'marginal', 'It has 8 bits a sample, the original 10.'],
      ['size', 'marginal', 'It is 1280×720, the original 1920×1080.'],
    ]);
  });

  it('go by what the picture shows where its tag says otherwise', () => {
    expect(changed({ scan: 'interlaced', scanSeen: 'progressive' })).to.deep.equal([]);
    expect(changed({ scan: 'progressive', scanSeen: 'interlaced' })[0].slice(0, 2)).to.deep.equal([
      'scan',
      'fail',
    ]);
  });
});

describe('frames that went wrong on the way', () => {
  const said = (...times: Parameters<typeof timesWrong>[0]): string[] =>
    timesWrong(times, 12).map((f) => f.because);

  it('are named in both files, one or several of them', () => {
    expect(said({ kind: 'dropped', frame: 8, count: 1 })).to.deep.equal([
      'A frame is missing, before frame 8 (in the original from frame 20): movement jumps there.',
    ]);
    expect(said({ kind: 'repeated', frame: 8, count: 3 })[0]).to.contain('3 frames are shown again');
    expect(said({ kind: 'dropped', frame: null, count: 2 })).to.deep.equal([
      '2 frames are missing, where cannot be told: movement jumps there.',
    ]);
  });

  it('are a part where they are gone at an end, which is no failure', () => {
    const parts = timesWrong(
      [
        { kind: 'missing', frame: 0, count: 6 },
        { kind: 'missing', frame: 34, count: 1 },
      ],
      6,
    );
    expect(parts.map((p) => [p.verdict, p.because])).to.deep.equal([
      ['marginal', 'It is a part: the first 6 frames of the original are not there.'],
      ['marginal', 'It is a part: the last frame of the original is not there.'],
    ]);
  });
});

describe('a place that is softer than the rest', () => {
  const at = (frame: number, value: number | null, tiles = 40): HarmedWindow =>
    ({ frame, harm: { detailKeptPct: { value, tiles } } }) as unknown as HarmedWindow;
  const found = (...windows: HarmedWindow[]) => softPlaces(windows, USUAL_HARM_LIMITS, 0);

  it('is found among several, the softest of them, by how much is left elsewhere', () => {
    const [place, ...more] = found(at(0, 97), at(10, 70), at(20, 52), at(30, 96), at(40, 98));
    expect(more).to.deep.equal([]);
    expect(place).to.include({ what: 'softPlace', verdict: 'fail', frame: 20 });
    expect(place.because).to.contain('52 % of the fine detail are left there, 96 % elsewhere');
  });

  it('is none where all of the clip lost as much, where few tiles tell, or where there are few places', () => {
    expect(found(at(0, 60), at(10, 55), at(20, 58), at(30, 61)), 'that is said of the clip').to.deep.equal(
      [],
    );
    expect(found(at(0, 97), at(10, 40, 5), at(20, 95), at(30, 96))).to.deep.equal([]);
    expect(found(at(0, 97), at(10, null), at(20, 96), at(30, 95))).to.deep.equal([]);
    expect(found(at(0, 97), at(10, 40))).to.deep.equal([]);
  });
});
