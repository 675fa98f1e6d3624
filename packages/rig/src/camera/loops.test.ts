import { expect } from 'chai';
import { seeded } from '../random.js';
import { gaussianTaps } from './lens.js';
import { roomsFor } from './loops.js';
import { oetf709 } from './sensor.js';

/** Each loop against the plain way to say what it does, on pictures whose sides are no multiple of four. */
describe('the loops of the camera', () => {
  const [W, H] = [37, 23];
  const picture = W * H * 3;
  const random = seeded(12);
  const noise = (floats: Float32Array): void => void floats.forEach((_, i) => (floats[i] = random()));
  const worst = (a: ArrayLike<number>, b: ArrayLike<number>): number =>
    Array.from(b).reduce<number>((most, v, i) => Math.max(most, Math.abs(v - a[i])), 0);
  const clamp = (v: number, n: number): number => Math.min(n - 1, Math.max(0, v));

  for (const sigma of [0.6, 1, 3.4, 9])
    it(`blur across and down by ${sigma} px, to the very edges`, () => {
      const taps = gaussianTaps(sigma);
      const radius = taps.length >> 1;
      const { memory, rooms } = roomsFor([picture, picture, picture, taps.length]);
      const [from, across, down, weights] = rooms;
      noise(from.floats);
      weights.floats.set(taps);
      memory.run.blurAcross(from.at, across.at, W, H, weights.at, radius);
      memory.run.blurDown(from.at, down.at, W, H, weights.at, radius);
      const plain = (at: (x: number, y: number, k: number) => number): number[] =>
        Array.from({ length: picture }, (_, i) => {
          const [c, x, y] = [i % 3, Math.floor(i / 3) % W, Math.floor(i / 3 / W)];
          return taps.reduce((sum, t, k) => sum + t * from.floats[3 * at(x, y, k - radius) + c], 0);
        });
      expect(
        worst(
          across.floats,
          plain((x, y, k) => y * W + clamp(x + k, W)),
        ),
      ).to.be.lessThan(1e-5);
      expect(
        worst(
          down.floats,
          plain((x, y, k) => clamp(y + k, H) * W + x),
        ),
      ).to.be.lessThan(1e-5);
    });

  it('encode light as the transfer does, in the shadows too', () => {
    const steps = 8192;
    const table = (to: number): Float32Array =>
      Float32Array.from({ length: steps + 2 }, (_, i) => oetf709((i / steps) * to));
    const { memory, rooms } = roomsFor([picture, picture, steps + 2, steps + 2]);
    const [light, out, dark, whole] = rooms;
    light.floats.forEach((_, i) => (light.floats[i] = (i / picture) ** 3 * 1.1 - 0.01));
    dark.floats.set(table(0.02));
    whole.floats.set(table(1));
    memory.run.encode(light.at, out.at, picture, dark.at, whole.at, 0.02, steps);
    const plain = Array.from(light.floats, (v) => (v >= 1 ? 1 : oetf709(v)));
    // The standard's curve steps a little where its two parts meet: the table rounds that corner off.
    expect(worst(out.floats, plain)).to.be.lessThan(5e-5);
  });

  for (const [stepX, stepY] of [
    [1, 1],
    [2, 1],
    [2, 2],
  ])
    it(`part a signal into luma and colour, one sample of it for ${stepX} × ${stepY} pixels`, () => {
      const [cw, ch] = [Math.ceil(W / stepX), Math.ceil(H / stepY)];
      const { memory, rooms } = roomsFor([picture, W * H, cw * ch, cw * ch]);
      const [signal, luma, cb, cr] = rooms;
      noise(signal.floats);
      const [kr, kb] = [0.2126, 0.0722];
      memory.run.toPlanes(signal.at, W, H, stepX, stepY, kr, kb, luma.at, cb.at, cr.at);
      const s = signal.floats;
      const y = Array.from(
        { length: W * H },
        (_, p) => kr * s[3 * p] + (1 - kr - kb) * s[3 * p + 1] + kb * s[3 * p + 2],
      );
      const colour = (channel: number, k: number): number[] =>
        Array.from({ length: cw * ch }, (_, c) => {
          const [x0, y0] = [(c % cw) * stepX, Math.floor(c / cw) * stepY];
          const block: number[] = [];
          for (let v = y0; v < Math.min(H, y0 + stepY); v++)
            for (let u = x0; u < Math.min(W, x0 + stepX); u++)
              block.push((s[3 * (v * W + u) + channel] - y[v * W + u]) / (2 * (1 - k)));
          return block.reduce((a, b) => a + b, 0) / block.length;
        });
      expect(worst(luma.floats, y)).to.be.lessThan(1e-6);
      expect(worst(cb.floats, colour(2, kb))).to.be.lessThan(1e-6);
      expect(worst(cr.floats, colour(0, kr))).to.be.lessThan(1e-6);
    });

  it('round to codes of one byte and of two, and never beyond the last', () => {
    const { memory, rooms } = roomsFor([W * H, W * H]);
    const [plane, codes] = rooms;
    plane.floats.forEach((_, i) => (plane.floats[i] = 1.4 * random() - 0.2));
    for (const [base, span, top, wide] of [
      [16, 219, 255, 0],
      [64, 876, 1023, 1],
    ]) {
      memory.run.toCodes(plane.at, W * H, base, span, top, wide, codes.at);
      const { buffer, byteOffset } = codes.floats;
      const written = wide
        ? new Uint16Array(buffer, byteOffset, W * H)
        : new Uint8Array(buffer, byteOffset, W * H);
      const plain = Array.from(plane.floats, (v) => Math.max(0, Math.min(top, Math.round(base + span * v))));
      expect(worst(written, plain), 'a tie may go either way').to.be.at.most(1);
      expect(Array.from(written).filter((v, i) => v !== plain[i]).length).to.be.at.most(1);
    }
  });

  it('end a row with what shone through to the back', () => {
    const { memory, rooms } = roomsFor([4 * W, W, 3 * W + 4]);
    const [sums, rest, out] = rooms;
    noise(sums.floats);
    noise(rest.floats);
    memory.run.settleRow(sums.at, rest.at, 0.5, 0.25, 2, W, out.at);
    const plain = Array.from({ length: 3 * W }, (_, i) => {
      const [x, c] = [Math.floor(i / 3), i % 3];
      return sums.floats[4 * x + c] + [0.5, 0.25, 2][c] * rest.floats[x];
    });
    expect(worst(out.floats, plain)).to.be.lessThan(1e-6);
  });

  it('make up the colours that a photosite does not see', () => {
    const { memory, rooms } = roomsFor([picture, picture]);
    const [seen, out] = rooms;
    noise(seen.floats);
    memory.run.throughMosaic(seen.at, out.at, W, H);
    const colourAt = (x: number, y: number): number => (x % 2 === y % 2 ? (x % 2 === 0 ? 0 : 2) : 1);
    const plain = Array.from({ length: picture }, (_, i) => {
      const [c, x, y] = [i % 3, Math.floor(i / 3) % W, Math.floor(i / 3 / W)];
      if (colourAt(x, y) === c) return seen.floats[i];
      const near: number[] = [];
      for (const [dx, dy] of [-1, 0, 1].flatMap((a) => [-1, 0, 1].map((b) => [a, b]))) {
        const [u, v] = [x + dx, y + dy];
        if (u < 0 || v < 0 || u >= W || v >= H || colourAt(u, v) !== c) continue;
        if (c === 1 && dx !== 0 && dy !== 0) continue;
        near.push(seen.floats[3 * (v * W + u) + c]);
      }
      return near.reduce((a, b) => a + b, 0) / near.length;
    });
    expect(worst(out.floats, plain)).to.be.lessThan(1e-6);
  });

  it('lay a plate over a row, as far as it reaches', () => {
    const [pw, ph] = [20, 9];
    const { memory, rooms } = roomsFor([4 * pw * ph, W, 4 * W]);
    const [plate, clear, sums] = rooms;
    for (const [u, v, du, dv] of [
      [1.3, 2.6, 0.45, 0.02],
      [-4.2, 5.5, 0.9, -0.11],
      [2, 0, 1, 0],
      [40, 3, 1, 0],
    ]) {
      noise(plate.floats);
      clear.floats.fill(0.8);
      sums.floats.fill(0.1);
      memory.run.addPlate(plate.at, pw, ph, u, v, du, dv, W, clear.at, sums.at);
      const expected = Array.from({ length: W }, (_, x) => {
        const [pu, pv] = [u + du * x, v + dv * x];
        if (pu < 0 || pv < 0 || pu >= pw - 1 || pv >= ph - 1) return [0.1, 0.1, 0.1, 0.1];
        const [iu, iv] = [Math.floor(pu), Math.floor(pv)];
        const [fu, fv] = [pu - iu, pv - iv];
        const at = (i: number, j: number, c: number): number =>
          plate.floats[4 * ((iv + j) * pw + iu + i) + c];
        return [0, 1, 2, 3].map(
          (c) =>
            0.1 +
            0.8 *
              ((at(0, 0, c) * (1 - fu) + at(1, 0, c) * fu) * (1 - fv) +
                (at(0, 1, c) * (1 - fu) + at(1, 1, c) * fu) * fv),
        );
      });
      expect(worst(sums.floats, expected.flat())).to.be.lessThan(1e-6);
      const left = expected.map(([, , , alpha]) => 0.8 - (alpha - 0.1));
      expect(worst(clear.floats, left)).to.be.lessThan(1e-6);
    }
  });

  for (const [stepX, stepY] of [
    [1, 1],
    [2, 2],
  ])
    it(`tell the power of the noise that is stored, one sample of colour for ${stepX} × ${stepY} pixels`, () => {
      const [cw, ch] = [Math.ceil(W / stepX), Math.ceil(H / stepY)];
      const planes = [W * H, cw * ch, cw * ch];
      const { memory, rooms } = roomsFor([picture, picture, ...planes, ...planes]);
      const [clean, noisy, luma, cb, cr, cleanLuma, cleanCb, cleanCr] = rooms;
      noise(clean.floats);
      noisy.floats.set(clean.floats.map((v) => v + 0.1 * (random() - 0.5)));
      const [kr, kb] = [0.2126, 0.0722];
      const [span, chromaSpan] = [219, 224];
      const { run } = memory;
      run.toPlanes(noisy.at, W, H, stepX, stepY, kr, kb, luma.at, cb.at, cr.at);
      run.toPlanes(clean.at, W, H, stepX, stepY, kr, kb, cleanLuma.at, cleanCb.at, cleanCr.at);
      run.noisePower(luma.at, cb.at, cr.at, clean.at, W, H, stepX, stepY, span, chromaSpan, kr, kb);
      const stored = (v: number, codes: number): number => Math.floor(codes * v + 0.5) / codes;
      const plain = new Float64Array(7);
      for (let y = 0; y < H; y += 3)
        for (let x = y % 2; x < W; x += 3) {
          const [i, c] = [y * W + x, Math.floor(y / stepY) * cw + Math.floor(x / stepX)];
          const dy = stored(luma.floats[i], span) - cleanLuma.floats[i];
          const db = stored(cb.floats[c], chromaSpan) - cleanCb.floats[c];
          const dr = stored(cr.floats[c], chromaSpan) - cleanCr.floats[c];
          // Back from luma and colour differences to red, green and blue.
          const [red, blue] = [dy + 2 * (1 - kr) * dr, dy + 2 * (1 - kb) * db];
          const green = (dy - kr * red - kb * blue) / (1 - kr - kb);
          [dy, db, dr, red, green, blue].forEach((d, k) => (plain[k] += d * d));
          plain[6]++;
        }
      for (let k = 0; k < 7; k++) expect(memory.result(k)).to.be.closeTo(plain[k], 1e-3 * plain[k]);
    });

  it('add noise that grows towards the shadows', () => {
    const { memory, rooms } = roomsFor([picture, picture, W * H, W * H]);
    const [clean, noisy, field, fixed] = rooms;
    for (const room of rooms) noise(room.floats);
    const before = Float32Array.from(noisy.floats);
    memory.run.addNoise(clean.at + 4, noisy.at + 4, field.at, fixed.at, 0.02, 0.01, 0.5, W * H);
    const plain = Array.from(before, (v, i) => {
      if (i % 3 !== 1) return v;
      const p = Math.floor(i / 3);
      const lift = 1 + 0.5 * Math.max(0, 1 - 2 * clean.floats[i]);
      return v + (field.floats[p] * 0.02 + fixed.floats[p] * 0.01) * lift;
    });
    expect(worst(noisy.floats, plain)).to.be.lessThan(1e-6);
  });
});
