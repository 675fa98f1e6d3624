import { expect } from 'chai';
import { seeded } from '@bevrin/rig';
import { RunningMotionAnalysis } from '../../../motion/motion-analysis.js';
import { Mask } from '../../../picture/mask.js';
import type { MeasureOptions } from '../../measure.js';
import { specks, type SpecksFound } from './specks.js';

const [width, height] = [320, 180];
const CLIP = { width, height, bitDepth: 8, range: 'full', frameRate: '25/1' } as const;
const FINE = 4;
/** A lens draws a little wider than a pixel. */
const WIDE = 1.4;

/** How bright a place is. */
type Scene = (x: number, y: number) => number;

/** A wall of panes between thin dark bars, each pane of its own grey; as sharp as the small view can be. */
const random = seeded(17);
const greys = Array.from({ length: 40 * 20 }, () => 26000 + 24000 * random());
const wall: Scene = (x, y) => {
  const [u, v] = [x + 200, y + 100];
  if (u % 80 < 1.2 || v % 60 < 1.2) return 15000;
  return greys[(Math.floor(v / 60) % 20) * 40 + (Math.floor(u / 80) % 40)];
};

/** The wall, each pixel its own area of it, as a hand holds the camera; with pieces of dust in the frames that have them. */
const found = (
  dust: readonly { frame: number; x: number; y: number }[],
  shows = 5000,
  scene: (frame: number) => Scene = () => wall,
): SpecksFound => {
  const motion = new RunningMotionAnalysis(CLIP, new Mask([]));
  const running = specks.begin(CLIP as never, motion, {} as MeasureOptions);
  for (let f = 0; f < 26; f++) {
    const [dx, dy] = [1.7 * Math.sin(f * 0.9) + 0.31 * f, 1.1 * Math.cos(f * 1.3)];
    const seen = scene(f);
    const samples = Uint16Array.from({ length: width * height }, (_, i) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      if (dust.some((d) => d.frame === f && Math.hypot(x - d.x, y - d.y) < 2)) return shows;
      let sum = 0;
      for (let v = 0; v < FINE; v++)
        for (let u = 0; u < FINE; u++)
          sum += seen(x + dx + (WIDE * (u + 0.5)) / FINE, y + dy + (WIDE * (v + 0.5)) / FINE);
      return sum / FINE ** 2;
    });
    const frame = { view: 'small', index: f, planes: [{ width, height, samples }] } as const;
    motion.take(frame);
    running.take(frame);
  }
  return running.finish()!;
};

describe('specks', function () {
  this.timeout(30_000);

  it('are none where thin bars fall now on one pixel of the small view, now between two', () => {
    expect(found([]).specks.frames).to.deep.equal([]);
  });

  it('are none of the spokes, feet and hands of somebody who passes on a bicycle', () => {
    const bicycle = (frame: number): Scene => {
      const at = 13 * frame - 20;
      const foot = { x: 31 + 10 * Math.cos(1.9 * frame), y: 125 + 10 * Math.sin(1.9 * frame) };
      const hand = { x: 31 + 22 * Math.cos(2.1 * frame), y: 60 + 18 * Math.sin(2.1 * frame) };
      const sways = 4 * Math.sin(1.9 * frame);
      const isIn = (u: number, y: number, what: { x: number; y: number }, reach: number): boolean =>
        (u - what.x) ** 2 + (y - what.y) ** 2 < reach * reach;
      const isOfAWheel = (u: number, y: number, hub: number): boolean => {
        if (!isIn(u, y, { x: hub, y: 125 }, 26)) return false;
        const r = Math.hypot(u - hub, y - 125);
        const turn =
          (12 * (Math.atan2(y - 125, u - hub) - 0.7 * frame + (hub > 0 ? 0 : 0.5))) / (2 * Math.PI);
        return r > 24.5 || (Math.abs(turn - Math.round(turn)) * 2 * Math.PI * r) / 12 < 1;
      };
      return (x, y) => {
        const u = x - at;
        if (Math.abs(u - 31) > 60) return wall(x, y);
        if (isOfAWheel(u, y, 0) || isOfAWheel(u, y, 62)) return 6000;
        if (Math.abs(u - 31 + sways) < 11 && Math.abs(y - 70) < 26) return 52000;
        if (isIn(u, y, hand, 4)) return 54000;
        if (isIn(u, y, foot, 4)) return 52000;
        return wall(x, y);
      };
    };
    expect(found([], 5000, bicycle).specks.perFrame).to.be.lessThan(0.1);
  });

  it('are found in front of the same bars, each in its frame and at its place', () => {
    const dust = [
      { frame: 9, x: 100, y: 60 },
      { frame: 9, x: 220, y: 120 },
      { frame: 21, x: 160, y: 90 },
    ];
    const { frames } = found(dust).specks;
    expect(frames.flatMap(({ frame, specks: all }) => all.map(() => frame))).to.deep.equal([9, 9, 21]);
    for (const { frame, x, y } of dust)
      expect(
        frames.find((f) => f.frame === frame)!.specks.some((s) => Math.hypot(s.x - x, s.y - y) < 3),
        `${x}, ${y}`,
      ).to.equal(true);
  });

  it('are counted as many as there are, though in front of lights as bright as they few are found', () => {
    // On the right half the wall is tiled in small panes, some of them brighter than the dust.
    const tiled: Scene = (x, y) => {
      if (x < width / 2) return wall(x, y);
      const [u, v] = [Math.floor((x + 200) / 9), Math.floor((y + 100) / 9)];
      return 30000 + 30000 * ((Math.abs(u * 7919 + v * 104729) % 97) / 97);
    };
    const where = seeded(23);
    const dust = Array.from({ length: 26 * 5 }, (_, i) => ({
      frame: Math.floor(i / 5),
      x: 10 + (width - 20) * where(),
      y: 10 + (height - 20) * where(),
    }));
    const { specks: told, perFrameError } = found(dust, 56000, () => tiled);
    const { frames, perFrame } = told;
    const listed = frames.reduce((sum, f) => sum + f.specks.length, 0);
    expect(listed, 'found, of those in frames with one on each side').to.be.within(40, 0.75 * 24 * 5);
    expect(perFrame).to.be.within(0.85 * 5, 1.15 * 5);
    expect(perFrameError, 'of the share that was missed').to.be.within(0.05 * 5, 0.15 * 5);
  });
});
