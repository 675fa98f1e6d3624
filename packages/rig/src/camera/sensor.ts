import type { KernelMemory } from '@bevrin/core';
import { normal, seeded } from '../random.js';
import type { Loops, Room } from './loops.js';

const FLOAT_BYTES = 4;

/** A fault of one photosite. `hot` adds to the signal, `dead` gives none, `stuck` gives always the same. */
export interface SensorFault {
  readonly x: number;
  readonly y: number;
  readonly kind: 'hot' | 'dead' | 'stuck';
  readonly channel: 'luma' | 'red' | 'green' | 'blue';
  /** Signal added (hot) or given (stuck), 0–1 of range. */
  readonly level: number;
}

export interface Sensor {
  /** Standard deviation of the noise in red, green, blue; % of range, after the transfer. */
  readonly noisePct: readonly [number, number, number];
  /** Size of the grain: sigma in pixels of the Gaussian that clumps it, 0 for none. */
  readonly grainSigmaPx: number;
  /** Standard deviation of the noise that stays in place, % of range, all channels alike. */
  readonly fixedPatternPct: number;
  /** Makes noise grow towards the shadows: 0 even, 1 twice as strong at black as at mid-grey. */
  readonly shadowLift: number;
  readonly faults: readonly SensorFault[];
  /** Whether its photosites see one colour each: a fault is then of the colour of its site, and spreads as that is filled in. */
  readonly faultsInMosaic?: boolean;
}

export const cleanSensor: Sensor = {
  noisePct: [0, 0, 0],
  grainSigmaPx: 0,
  fixedPatternPct: 0,
  shadowLift: 0,
  faults: [],
};

const TABLE = 1 << 20;
let drawn: Float32Array | null = null;
/** Normal deviates, drawn once they are asked for. */
const deviates = (): Float32Array => {
  if (drawn) return drawn;
  const random = seeded(20261);
  drawn = new Float32Array(TABLE);
  for (let i = 0; i < TABLE; i++) drawn[i] = normal(random);
  return drawn;
};

/** Fills a plane with white noise of unit variance, repeatable by seed. */
export const whiteNoise = (width: number, height: number, seed: number, out: Float32Array): void => {
  const random = seeded(seed);
  const table = deviates();
  for (let y = 0; y < height; y++) {
    const from = Math.floor(random() * (TABLE - width));
    out.set(table.subarray(from, from + width), y * width);
  }
};

/** Standard deviations on each side that a grain is followed to. */
const GRAIN_REACH = 3;
/** Most weights of a grain: a standard deviation of ten pixels. */
const MOST_GRAIN_TAPS = 64;

/** Weights of a Gaussian that leave the variance of white noise as it is. */
const grainTaps = (sigmaPx: number): Float32Array => {
  const radius = Math.ceil(GRAIN_REACH * sigmaPx);
  const taps = Array.from({ length: 2 * radius + 1 }, (_, i) =>
    Math.exp(-((i - radius) ** 2) / (2 * sigmaPx * sigmaPx)),
  );
  const norm = Math.sqrt(taps.reduce((s, t) => s + t * t, 0));
  return Float32Array.from(taps, (t) => t / norm);
};

/** Rooms for a field of noise, and for making it. */
export const grainRooms = (width: number, height: number): number[] => [
  width * height,
  width * height,
  MOST_GRAIN_TAPS,
];

/**
 * Fills the first room with noise of unit variance, white or clumped, repeatable by seed.
 * @param rooms as `grainRooms` asks for them
 * @param sigmaPx of the Gaussian that clumps it, 0 for none
 */
export const grain = (
  { run }: KernelMemory<Loops>,
  [field, work, taps]: readonly Room[],
  width: number,
  height: number,
  sigmaPx: number,
  seed: number,
): void => {
  whiteNoise(width, height, seed, field.floats);
  if (sigmaPx <= 0) return;
  const weights = grainTaps(sigmaPx);
  if (weights.length > MOST_GRAIN_TAPS)
    throw new RangeError(`a grain of ${sigmaPx} px is too coarse for the rig`);
  taps.floats.set(weights);
  const radius = weights.length >> 1;
  run.clumpAcross(field.at, work.at, width, height, taps.at, radius);
  run.clumpDown(work.at, field.at, width, height, taps.at, radius);
};

/** BT.709 opto-electronic transfer: linear light 0–1 to signal 0–1 (ITU-R BT.709-6, item 1.2). */
export const oetf709 = (light: number): number =>
  light <= 0 ? 0 : light < 0.018 ? 4.5 * light : 1.099 * Math.pow(light, 0.45) - 0.099;

const OETF_STEPS = 8192;
/** Below this light the curve bends too much for the table of the whole range. */
const DARKEST = 0.02;
/** Light at each step of a table that ends at `to`. */
const tableTo = (to: number): Float32Array =>
  Float32Array.from({ length: OETF_STEPS + 2 }, (_, i) => oetf709((i / OETF_STEPS) * to));

/** Floats that a sensor needs beside the pictures: its fields of noise and its tables. */
export const sensorRooms = (width: number, height: number): number[] => [
  ...grainRooms(width, height),
  width * height,
  OETF_STEPS + 2,
  OETF_STEPS + 2,
];

/** Turns an exposure into signal 0–1 with this sensor's noise and faults. Interleaved R′G′B′; clips to 0–1 when noiseless. */
export class Develop {
  private readonly grain: readonly Room[];
  private readonly fixed: Room;
  private readonly dark: Room;
  private readonly table: Room;

  /** @param rooms as `sensorRooms` asks for them */
  constructor(
    private readonly memory: KernelMemory<Loops>,
    rooms: readonly Room[],
    private readonly width: number,
    private readonly height: number,
    private readonly sensor: Sensor,
    private readonly seed: number,
  ) {
    this.grain = rooms.slice(0, 3);
    [this.fixed, this.dark, this.table] = rooms.slice(3);
    this.fixed.floats.fill(0);
    if (sensor.fixedPatternPct > 0) whiteNoise(width, height, seed ^ 0x5f5f, this.fixed.floats);
    this.dark.floats.set(tableTo(DARKEST));
    this.table.floats.set(tableTo(1));
  }

  /** @param clean receives the signal without noise, so that the truth can be taken from the difference */
  frame(light: Room, frame: number, clean: Room, noisy: Room): void {
    const { noisePct, grainSigmaPx, fixedPatternPct, shadowLift, faults } = this.sensor;
    const { run } = this.memory;
    const count = this.width * this.height;
    run.encode(light.at, clean.at, 3 * count, this.dark.at, this.table.at, DARKEST, OETF_STEPS);
    this.applyFaults(clean.floats, faults);
    noisy.floats.set(clean.floats);
    if (!noisePct.some((n) => n > 0) && fixedPatternPct === 0) return;
    for (let c = 0; c < 3; c++) {
      const seed = this.seed * 7919 + frame * 31 + c;
      grain(this.memory, this.grain, this.width, this.height, grainSigmaPx, seed);
      run.addNoise(
        clean.at + FLOAT_BYTES * c,
        noisy.at + FLOAT_BYTES * c,
        this.grain[0].at,
        this.fixed.at,
        noisePct[c] / 100,
        fixedPatternPct / 100,
        shadowLift,
        count,
      );
    }
    this.applyFaults(
      noisy.floats,
      faults.filter((f) => f.kind !== 'hot'),
    );
  }

  private applyFaults(signal: Float32Array, faults: readonly SensorFault[]): void {
    if (this.sensor.faultsInMosaic) return faults.forEach((fault) => this.throughMosaic(signal, fault));
    const channels = { luma: [0, 1, 2], red: [0], green: [1], blue: [2] } as const;
    for (const fault of faults)
      for (const c of channels[fault.channel]) {
        const i = (fault.y * this.width + fault.x) * 3 + c;
        signal[i] =
          fault.kind === 'dead'
            ? 0
            : fault.kind === 'stuck'
              ? fault.level
              : Math.min(1, signal[i] + fault.level);
      }
  }

  /** A fault of one site of a mosaic (red green / green blue), with the colours between filled in from their neighbours. */
  private throughMosaic(signal: Float32Array, { x, y, kind, level }: SensorFault): void {
    const c = x % 2 === 0 && y % 2 === 0 ? 0 : x % 2 === 1 && y % 2 === 1 ? 2 : 1;
    const own = signal[(y * this.width + x) * 3 + c];
    const change = (kind === 'dead' ? 0 : kind === 'stuck' ? level : Math.min(1, own + level)) - own;
    for (let v = -1; v <= 1; v++)
      for (let u = -1; u <= 1; u++) {
        const steps = Math.abs(u) + Math.abs(v);
        const share = c === 1 ? [1, 0.25, 0][steps] : [1, 0.5, 0.25][steps];
        const [px, py] = [x + u, y + v];
        if (px < 0 || py < 0 || px >= this.width || py >= this.height) continue;
        const i = (py * this.width + px) * 3 + c;
        signal[i] = Math.max(0, Math.min(1, signal[i] + share * change));
      }
  }
}
