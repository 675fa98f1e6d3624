import { expect } from 'chai';
import { seeded } from '../random.js';
import { studyRecipe } from '../study-clip.js';
import { renderFrames } from '../render.js';
import { Exposer } from './expose.js';
import type { PictureFormat } from './format.js';
import { equivalentSigmaPx, lensTaps, MOST_TAPS, throughLens } from './lens.js';
import { roomsFor } from './loops.js';
import { exposedLight, pulsing, unsteady } from './light.js';
import { handHeld, lockedOff, panning } from './path.js';
import { cleanSensor, Develop, grain, grainRooms, oetf709, sensorRooms } from './sensor.js';

const rms = (values: ArrayLike<number>): number =>
  Math.sqrt(Array.from(values).reduce((s, v) => s + v * v, 0) / values.length);

describe('the synthetic camera', () => {
  it('shakes by as much as it was told', () => {
    const path = handHeld(4, 0.3, 12);
    const poses = Array.from({ length: 20_000 }, (_, i) => path(i * 0.013));
    expect(rms(poses.map((p) => Math.hypot(p.x, p.y)))).to.be.closeTo(4, 0.15);
    expect(rms(poses.map((p) => p.rotationDeg))).to.be.closeTo(0.3, 0.02);
  });

  it('averages a lamp over the exposure: whole pulses leave it steady', () => {
    const lamp = pulsing(100, 0.4);
    const swing = (sec: number): number => {
      const seen = Array.from({ length: 500 }, (_, i) => exposedLight(lamp, i / 3331, sec));
      return (Math.max(...seen) - Math.min(...seen)) / 2;
    };
    expect(swing(0.01)).to.be.lessThan(0.002);
    expect(swing(0.005)).to.be.closeTo((0.4 * Math.sin(Math.PI / 2)) / (Math.PI / 2), 0.005);
  });

  it('keeps unsteady light the same within a frame and new in the next', () => {
    const light = unsteady(0.1, 25, 3);
    expect(light(0.041)).to.equal(light(0.079));
    expect(light(0.041)).to.not.equal(light(0.081));
  });

  it('exposes each row at its own time: a pan leans what is upright by pan speed times read-out', () => {
    const [width, height] = [64, 60];
    const stripe = { width: 400, height: 200, rgba: new Float32Array(400 * 200 * 4) };
    for (let y = 0; y < 200; y++)
      for (let x = 0; x < 200; x++) stripe.rgba.fill(1, (y * 400 + x) * 4, (y * 400 + x) * 4 + 4);
    const texture = stripe as unknown as ConstructorParameters<
      typeof Exposer
    >[0]['layers'][number]['texture'];
    const scene = {
      layers: [{ texture, texelsPerPixel: 1, parallax: 1, place: () => ({ x: 0, y: 0 }) }],
      ground: [0, 0, 0] as const,
    };
    const edgeAt = (readout: number, row: number): number => {
      const out = new Float32Array(width * height * 3);
      const camera = panning(250);
      new Exposer(scene, {
        width,
        height,
        frameRate: 25,
        shutter: 0.01,
        readout,
        camera,
        light: () => 1,
      }).frame(0, out);
      let lit = 0;
      for (let x = 0; x < width; x++) lit += out[(row * width + x) * 3];
      return lit;
    };
    expect(edgeAt(0, 2) - edgeAt(0, 57)).to.be.closeTo(0, 0.05);
    expect(edgeAt(0.8, 2) - edgeAt(0.8, 57)).to.be.closeTo((250 / 25) * 0.8 * (55 / 60), 0.1);
  });

  it('blurs a point into a Gaussian of the lens and keeps its light', () => {
    const size = 41;
    const { memory, rooms } = roomsFor([size * size * 3, size * size * 3, MOST_TAPS]);
    const [room, across, taps] = rooms;
    const light = room.floats;
    light.fill(0);
    light.fill(1, (20 * size + 20) * 3, (20 * size + 20) * 3 + 3);
    throughLens(memory, room, across, taps, size, size, 2);
    let [sum, second] = [0, 0];
    for (let y = 0; y < size; y++)
      for (let x = 0; x < size; x++) {
        sum += light[(y * size + x) * 3];
        second += light[(y * size + x) * 3] * (x - 20) ** 2;
      }
    expect(sum).to.be.closeTo(1, 1e-4);
    expect(Math.sqrt(second / sum)).to.be.closeTo(2, 0.06);
  });

  it('spreads a point evenly out of focus, and into a veil about a core, as the Gaussian of half contrast says', () => {
    for (const shape of ['gaussian', 'defocus', 'veil'] as const) {
      const taps = lensTaps(shape, 1.5);
      const middle = taps.length >> 1;
      const [sum, second] = [0, 2].map((n) => taps.reduce((s, t, i) => s + t * (i - middle) ** n, 0));
      expect(sum, shape).to.be.closeTo(1, 1e-5);
      // A veil's own spread: a fifth of the light, two and a half times as wide.
      const spread = shape === 'veil' ? 1.5 * Math.sqrt(0.8 + 0.2 * 6.25) : 1.5;
      expect(Math.sqrt(second), shape).to.be.closeTo(spread, 0.05);
    }
    expect(equivalentSigmaPx('gaussian', 1.5)).to.be.closeTo(1.5, 0.02);
    // A box keeps half of a wave of 1/0.603 of its width.
    expect(equivalentSigmaPx('defocus', 1.5)).to.be.closeTo(1.5 * Math.sqrt(12) * 0.3108, 0.03);
    expect(equivalentSigmaPx('veil', 1.5)).to.be.within(1.55, 2.1);
  });

  it('makes noise of unit power, white or clumped', () => {
    for (const sigma of [0, 1.5]) {
      const { memory, rooms } = roomsFor(grainRooms(203, 150));
      grain(memory, rooms, 203, 150, sigma, 9);
      const field = rooms[0].floats;
      expect(rms(field), `grain of ${sigma} px`).to.be.closeTo(1, 0.05);
      // Neighbours of clumped noise are alike by exp(−1/4σ²), all round, over the edges too.
      const alike = field.reduce((s, v, i) => s + v * field[(i + 203) % field.length], 0) / field.length;
      expect(alike, 'one row below').to.be.closeTo(sigma > 0 ? Math.exp(-1 / (4 * sigma * sigma)) : 0, 0.05);
      const beside = field.reduce((s, v, i) => s + v * field[i - (i % 203) + (((i % 203) + 1) % 203)], 0);
      expect(beside / field.length, 'one column beside').to.be.closeTo(alike, 0.06);
    }
  });

  it('puts faults of every kind where they belong', () => {
    const faults = [
      { x: 3, y: 2, kind: 'hot', channel: 'red', level: 0.3 },
      { x: 5, y: 2, kind: 'dead', channel: 'luma', level: 0 },
      { x: 7, y: 2, kind: 'stuck', channel: 'green', level: 0.9 },
    ] as const;
    const [w, h] = [10, 5];
    const picture = w * h * 3;
    const { memory, rooms } = roomsFor([picture, picture, picture, ...sensorRooms(w, h)]);
    const [light, clean, noisy, ...own] = rooms;
    light.floats.fill(0.2);
    const sensor = { ...cleanSensor, noisePct: [1, 1, 1] as const, faults };
    new Develop(memory, own, w, h, sensor, 4).frame(light, 0, clean, noisy);
    const at = (x: number, c: number): number => clean.floats[(2 * w + x) * 3 + c];
    const grey = oetf709(0.2);
    expect([at(3, 0), at(3, 1), at(5, 0), at(5, 2), at(7, 1), at(7, 0)]).to.satisfy((v: number[]) =>
      [grey + 0.3, grey, 0, 0, 0.9, grey].every((t, i) => Math.abs(v[i] - t) < 2e-3),
    );
    expect(noisy.floats[(2 * w + 7) * 3 + 1]).to.be.closeTo(0.9, 1e-6);
  });

  it('stores black and white at the codes of the range that it is told', () => {
    const [width, height] = [64, 48];
    const storedAs = (format: PictureFormat): ArrayLike<number> => {
      const frames = renderFrames(
        studyRecipe({ study: 'wall', width, height, frames: 1, seed: 4, barRows: 4, format }),
      );
      const { value } = frames.next();
      const bytes = (value as Uint8Array).slice();
      return format.bitDepth === 8 ? bytes : new Uint16Array(bytes.buffer);
    };
    for (const bitDepth of [8, 10] as const) {
      const of = 2 ** (bitDepth - 8);
      const limited = storedAs({ bitDepth, chroma: '420' });
      const full = storedAs({ bitDepth, chroma: '420', range: 'full' });
      expect([limited[0], full[0]], 'the bars above and below').to.deep.equal([16 * of, 0]);
      const colourless = width * height;
      expect([limited[colourless], full[colourless]]).to.deep.equal([128 * of, 128 * of]);
      const top = 2 ** bitDepth - 1;
      const apart = Array.from({ length: colourless }, (_, i) =>
        Math.abs(full[i] - ((limited[i] - 16 * of) / (219 * of)) * top),
      );
      expect(Math.max(...apart), 'codes, each rounded on its own').to.be.below(1.2);
    }
  });

  it('tells the noise that it really stored', () => {
    const frames = renderFrames(
      studyRecipe({ study: 'wall', width: 160, height: 90, frames: 4, noisePct: [2, 2, 2], seed: 6 }),
    );
    let step = frames.next();
    while (!step.done) step = frames.next();
    const luma = 2 * Math.hypot(0.2126, 0.7152, 0.0722);
    expect(step.value.noisePct.luma).to.be.closeTo(luma, 0.06 * luma);
  });

  it('draws the same clip twice, and another one from another seed', () => {
    const first = (seed: number): Uint8Array =>
      Uint8Array.from(
        renderFrames(
          studyRecipe({ study: 'wall', width: 64, height: 36, frames: 1, noisePct: [1, 1, 1], seed }),
        ).next().value as Uint8Array,
      );
    expect(first(1)).to.deep.equal(first(1));
    expect(first(1)).to.not.deep.equal(first(2));
    expect(lockedOff(3)).to.include({ x: 0, y: 0, zoom: 1 });
    expect(seeded(5)()).to.equal(seeded(5)());
  });
});
