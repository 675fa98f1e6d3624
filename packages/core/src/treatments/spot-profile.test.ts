import { expect } from 'chai';
import { fractal } from '@bevrin/rig';
import { LightCode } from './light-code.js';
import { profileAt, profileOf, REACHES, softProfile } from './spot-profile.js';
import { Study } from './study.js';

const [WIDTH, HEIGHT, FRAMES] = [320, 180, 16];
const clip = {
  bitDepth: 10,
  range: 'limited',
  transfer: 'bt709',
  matrix: 'bt709',
  width: WIDTH,
  height: HEIGHT,
} as const;
const SPOT = { x: 150, y: 90, radius: 9 };

/** A ground whose light rolls from `least` to `most` and back, some ten pixels each way. */
const ground = (least: number, most: number): ((x: number, y: number) => number) => {
  const wave = (x: number, y: number): number => fractal(x / 14, y / 14, 2, 31);
  return (x, y) => least + (most - least) * Math.max(0, Math.min(1, 1.6 * wave(x, y) - 0.3));
};

/** Frames of a ground that passes by `step` pixels a frame behind a spot that lets `gain` of the light through and adds `offset`. */
const passing = (
  step: number,
  { gain, offset, spot = SPOT }: { gain: number; offset: number; spot?: typeof SPOT },
): Study => {
  const light = new LightCode(clip);
  const scene = ground(0.1, 0.6);
  const pictures = Array.from({ length: FRAMES }, (_, f) => {
    const samples = new Uint16Array(WIDTH * HEIGHT);
    for (let i = 0; i < samples.length; i++) {
      const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
      const strength = Math.exp(-Math.LN2 * (Math.hypot(x - spot.x, y - spot.y) / spot.radius) ** 2);
      const behind = scene(x + step * f, y);
      samples[i] = Math.round(light.codeOf(behind * (1 - (1 - gain) * strength) + offset * strength));
    }
    return { planes: [{ width: WIDTH, height: HEIGHT, samples }] };
  });
  return new Study({ clip: clip as never, firstFrame: 0, pictures });
};

describe('what a spot does to the light', function () {
  this.timeout(60_000);

  it('is read off what lies beside it in other frames, ring by ring, to 2 %', () => {
    const profile = profileOf(passing(3, { gain: 0.8, offset: 0 }), SPOT)!;
    for (const distance of [0.2, 0.6, 1, 1.5, 2.2]) {
      const { gain, offset } = profileAt(profile, distance);
      expect(gain, `${distance} radii`).to.be.closeTo(1 - 0.2 * Math.exp(-Math.LN2 * distance ** 2), 0.02);
      expect(Math.abs(offset)).to.be.lessThan(0.01);
    }
  });

  it('is read off a speck of dust as well, whose rings are fewer', () => {
    const spot = { x: 150.4, y: 90.6, radius: 3 };
    const profile = profileOf(passing(3, { gain: 0.8, offset: 0, spot }), spot)!;
    expect(profile.gain).to.have.length(7);
    expect(profileAt(profile, 0.2).gain).to.be.closeTo(0.81, 0.03);
    expect(profileAt(profile, 2.2).gain).to.be.closeTo(1, 0.03);
  });

  it('tells light that it adds from light that it takes', () => {
    const { gain, offset } = profileAt(profileOf(passing(3, { gain: 0.7, offset: 0.1 }), SPOT)!, 0.1);
    expect(gain).to.be.closeTo(0.7, 0.03);
    expect(offset).to.be.closeTo(0.1, 0.015);
  });

  it('is not known where the camera stays, or goes less far than the spot is wide', () => {
    for (const step of [0, 1])
      expect(profileOf(passing(step, { gain: 0.8, offset: 0 }), SPOT)).to.equal(null);
  });

  it('never lets through less than a fifth, of which nothing could be lifted', () => {
    const black = profileOf(passing(3, { gain: 0.02, offset: 0 }), SPOT)!;
    expect(profileAt(black, 0).gain).to.be.closeTo(0.2, 1e-6);
  });

  it('by its setting is whole in the middle, half where its feather is half over, and gone at its end', () => {
    const soft = softProfile(25, 1);
    expect(profileAt(soft, 0).gain).to.be.closeTo(0.8, 0.01);
    expect(profileAt(soft, 0.5).gain).to.be.closeTo(1 / 1.125, 0.01);
    expect(profileAt(soft, REACHES - 0.1).gain).to.be.closeTo(1, 0.01);
  });
});
