import type { ClipFacts } from '#terms';
import type { Plane } from '../picture/frame.js';
import { chromaScale } from '../picture/signal.js';
import type { LightCode } from './light-code.js';
import type { Runner } from './runner.js';
import { codeOf, copyOf, subsampling, type Picture } from './sequence.js';
import { numberOf, rowsOf } from './settings.js';
import { profileAt, profileOf, REACHES, softProfile, type Place, type Profile } from './spot-profile.js';

/** Lens spots are lifted or lowered in their place by a gain and an offset for each ring, which follow what passes behind. */
export const correctSpots: Runner = {
  treatment: 'correctSpots',
  settings: {
    positions: { kind: 'rows', columns: ['x', 'y', 'radius'] },
    gainPct: { kind: 'number', unit: '%', least: -90, most: 200, step: 0.5, otherwise: 10 },
    featherPx: { kind: 'number', unit: 'px', least: 0, most: 200, step: 1, otherwise: 8 },
    follow: { kind: 'flag', otherwise: true },
    strengthPct: { kind: 'number', unit: '%', least: 0, most: 150, step: 5, otherwise: 100 },
  },
  swept: 'strengthPct',
  takesStructure: true,
  judgedOverFrames: 80,
  sweepAbout: () => [50, 75, 100, 120],
  neighbours: () => FOLLOWED_EACH_SIDE,
  begin: (study, settings) => {
    const strength = numberOf(settings, 'strengthPct') / 100;
    const spots = rowsOf(settings, 'positions').map(([x, y, radius]): Spot => {
      const spot = { x, y, radius };
      const followed = settings.follow === true ? profileOf(study, spot) : null;
      return {
        ...spot,
        profile:
          followed ?? softProfile(numberOf(settings, 'gainPct'), numberOf(settings, 'featherPx') / radius),
      };
    });
    const { clip, pictures } = study.sequence;
    const mender = new Mender(clip, study.light, strength);
    return { treat: (index) => mender.treat(pictures[index], spots) };
  },
};

/** Frames on each side that a spot's profile is read from. */
const FOLLOWED_EACH_SIDE = 12;

type Spot = Place & { readonly profile: Profile };

/** Gives the light back that spots took, or takes what they gave. */
class Mender {
  constructor(
    private readonly clip: ClipFacts,
    private readonly light: LightCode,
    private readonly strength: number,
  ) {}

  treat(picture: Picture, spots: readonly Spot[]): Picture {
    return {
      planes: picture.planes.map((plane, p) => {
        const out = copyOf(plane);
        for (const spot of spots)
          if (p === 0 || this.clip.matrix === 'rgb') this.mend(out, spot);
          else this.mendColour(out, picture, p, spot);
        return out;
      }),
    };
  }

  /** Changes the codes of luma or RGB under a spot. */
  private mend({ width, height, samples }: Plane, spot: Spot): void {
    overSpot({ width, height, kx: 1, ky: 1 }, spot, (i, gain, offset) => {
      samples[i] = codeOf(this.mended(samples[i], gain, offset), this.light.top);
    });
  }

  /** Colour differences go with luma: as much larger as it becomes where they lie. What a spot adds has no colour. */
  private mendColour(plane: Plane, picture: Picture, p: number, spot: Spot): void {
    const [luma] = picture.planes;
    const { width, height, samples } = plane;
    const { kx, ky } = subsampling(picture, p);
    const { black: neutral, top } = chromaScale(this.clip);
    const { black } = this.light;
    overSpot({ width, height, kx, ky }, spot, (i, gain) => {
      const [x, y] = [kx * (i % width), ky * Math.floor(i / width)];
      const code = luma.samples[Math.min(luma.height - 1, y) * luma.width + Math.min(luma.width - 1, x)];
      const times = code > black ? (this.mended(code, gain, 0) - black) / (code - black) : 1;
      samples[i] = codeOf(neutral + times * (samples[i] - neutral), top);
    });
  }

  /** @returns code, between whole ones */
  private mended(code: number, gain: number, offset: number): number {
    const { lights, black } = this.light;
    if (code <= black) return code;
    const full = this.light.codeOf((lights[code] - offset) / gain);
    return code + this.strength * (full - code);
  }
}

/** Visits the samples of a plane that lie under a spot, with what the spot does to the light there. */
const overSpot = (
  { width, height, kx, ky }: { width: number; height: number; kx: number; ky: number },
  { x, y, radius, profile }: Spot,
  visit: (index: number, gain: number, offset: number) => void,
): void => {
  const reach = REACHES * radius;
  for (let v = Math.max(0, Math.floor((y - reach) / ky)); v <= Math.min(height - 1, (y + reach) / ky); v++)
    for (let u = Math.max(0, Math.floor((x - reach) / kx)); u <= Math.min(width - 1, (x + reach) / kx); u++) {
      const distance = Math.hypot((u + 0.5) * kx - 0.5 - x, (v + 0.5) * ky - 0.5 - y) / radius;
      if (distance >= REACHES) continue;
      const { gain, offset } = profileAt(profile, distance);
      visit(v * width + u, gain, offset);
    }
};
