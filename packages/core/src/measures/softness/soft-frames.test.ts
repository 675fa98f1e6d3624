import { expect } from 'chai';
import { cameraStep as step } from '../../../../../tests/support/camera-step.js';
import { detailOf, relativeDetail, softRuns, type Detail } from './soft-frames.js';

const FRAMES = 40;
const SHOT = [{ startFrame: 0, endFrame: FRAMES - 1 }];
const WIDTH = 1000;

/** Detail of an even shot, but for what single frames keep of it. */
const details = (kept: Record<number, Partial<Detail>>): Detail[] =>
  Array.from({ length: FRAMES }, (_, f) => ({ x: 1, y: 1, middleX: 1, middleY: 1, ...kept[f] }));
const blurred = (share: number): Detail => ({ x: share, y: share, middleX: 0.9, middleY: 0.9 });

const still = Array.from({ length: FRAMES }, () => step(0));

/** Runs of soft frames in a shot of so much detail a frame. */
const runs = (share: Record<number, number>, steps = still, shots = SHOT) =>
  softRuns(
    Float64Array.from({ length: FRAMES }, (_, f) => share[f] ?? 1),
    shots,
    steps,
    WIDTH,
  );

describe('detail against the frames about', () => {
  it('is the share that a blurred frame keeps, and one everywhere else', () => {
    const relative = relativeDetail(details({ 12: blurred(0.4) }), SHOT);
    expect(relative[12]).to.be.closeTo(0.4, 1e-9);
    expect(relative.filter((r) => r < 0.999)).to.have.length(1);
  });

  it('is that of the direction which lost most: a frame blurred along its rows alone is soft', () => {
    expect(relativeDetail(details({ 20: { x: 0.5, middleX: 0.8 } }), SHOT)[20]).to.be.closeTo(0.5, 1e-9);
  });

  it('does not believe the finest detail where that twice as coarse is all there', () => {
    const relative = relativeDetail(details({ 7: { x: 0.5, y: 0.5, middleX: 0.97, middleY: 0.97 } }), SHOT);
    expect(relative[7]).to.be.at.least(0.97);
  });

  it('does not set a frame against those of another shot', () => {
    const all = details(Object.fromEntries(Array.from({ length: 20 }, (_, f) => [20 + f, blurred(0.3)])));
    const cut = [
      { startFrame: 0, endFrame: 19 },
      { startFrame: 20, endFrame: 39 },
    ];
    expect(Math.min(...relativeDetail(all, cut))).to.equal(1);
  });

  it('falls with a blur of real samples, along the way of the blur alone', () => {
    const [width, height] = [96, 64];
    const texture = (x: number, y: number): number => Math.sin(2.1 * x + 0.3 * y) + Math.sin(0.4 * x - 2 * y);
    const level = (at: (x: number, y: number) => number) => ({
      width,
      height,
      samples: Float32Array.from({ length: width * height }, (_, i) => at(i % width, Math.floor(i / width))),
    });
    const sharp = detailOf(level(texture));
    const soft = detailOf(level((x, y) => (texture(x - 1, y) + 2 * texture(x, y) + texture(x + 1, y)) / 4));
    expect(soft.x / sharp.x).to.be.below(0.5);
    expect(soft.y / sharp.y).to.be.above(0.9);
  });
});

describe('runs of soft frames', () => {
  it('are told with their first and last, and what single frames are worth', () => {
    expect(runs({ 10: 0.5, 11: 0.6, 25: 0.3 })).to.deep.equal([
      { startFrame: 10, endFrame: 11, cause: 'focus', recoverable: true },
      { startFrame: 25, endFrame: 25, cause: 'focus', recoverable: true },
    ]);
  });

  it('come of the camera where it goes faster than usual, and of a move where that goes on', () => {
    const jolt = still.map((s, f) => (f === 15 ? step(6) : s));
    expect(runs({ 15: 0.4 }, jolt)[0].cause).to.equal('shake');
    const whip = still.map((s, f) => (f >= 12 && f <= 21 ? step(40) : s));
    const share = Object.fromEntries(Array.from({ length: 10 }, (_, k) => [12 + k, 0.3]));
    expect(runs(share, whip)[0].cause).to.equal('move');
  });

  it('of a pan as fast as the whole shot are not its fault', () => {
    expect(
      runs(
        { 15: 0.4 },
        still.map(() => step(6)),
      )[0].cause,
    ).to.equal('focus');
  });

  it('cannot be rebuilt at the ends of a shot, when long, or with nothing sharp nearby', () => {
    expect(runs({ 0: 0.4 })[0].recoverable).to.equal(false);
    expect(runs({ 39: 0.4 })[0].recoverable).to.equal(false);
    expect(runs(Object.fromEntries([10, 11, 12, 13, 14, 15].map((f) => [f, 0.4])))[0].recoverable).to.equal(
      false,
    );
    const dull = Object.fromEntries([7, 8, 9, 11, 12, 13].map((f) => [f, 0.83]));
    expect(runs({ ...dull, 10: 0.4 })[0].recoverable).to.equal(false);
  });

  it('are none where the finest detail wavers as it does with where an edge falls, or all changes alike', () => {
    const wavering = details({}).map((d, f) => ({ ...d, x: f % 5 === 0 ? 0.5 : 1 }));
    const drifting = details({}).map((d, f) => ({ ...d, x: 1 - 0.004 * f, y: 1 - 0.004 * f }));
    for (const course of [wavering, drifting])
      expect(softRuns(relativeDetail(course, SHOT), SHOT, still, WIDTH)).to.deep.equal([]);
  });

  it('lose less where the picture is soft, but stand out as far; among frames that waver they do not', () => {
    const soft = { 20: 0.76, 21: 0.75 };
    expect(runs(soft).map((r) => [r.startFrame, r.endFrame])).to.deep.equal([[20, 21]]);
    expect(runs({ 20: 0.85 }), 'a tenth of its contrast is no jolt').to.deep.equal([]);
    const wavering = Object.fromEntries(still.map((_, f) => [f, 0.96 + 0.04 * Math.sin(f)]));
    expect(runs({ ...wavering, ...soft })).to.deep.equal([]);
    expect(runs({ ...wavering, 20: 0.6 })).to.have.length(1);
  });

  it('end with their shot', () => {
    const cut = [
      { startFrame: 0, endFrame: 19 },
      { startFrame: 20, endFrame: 39 },
    ];
    expect(runs({ 19: 0.4, 20: 0.4 }, still, cut).map((r) => [r.startFrame, r.endFrame])).to.deep.equal([
      [19, 19],
      [20, 20],
    ]);
  });
});
