import type { FlickerValues } from './descriptor.js';

/** Discharge lamps and many LEDs pulse at twice the mains frequency. */
const LAMP_LIGHT_HZ = [100, 120];
/** How far the seen frequency may lie from the computed beat, plus what the clip's length resolves. */
const TOLERANCE_HZ = 0.25;

/** Frequency at which light of `lightHz` is seen at this frame rate. */
export const beatHz = (lightHz: number, frameRate: number): number =>
  Math.abs(lightHz - Math.round(lightHz / frameRate) * frameRate);

/**
 * Lamps whose light, sampled at this frame rate, beats at the frequency that was seen.
 * @returns each with the shutter times up to one frame that take in whole pulses and would have been steady
 */
export const lampsFor = (seenHz: number, frameRate: number, clipSec: number): FlickerValues['lampHz'] =>
  LAMP_LIGHT_HZ.map((lightHz) => ({ lightHz, aliasHz: beatHz(lightHz, frameRate) }))
    .filter(({ aliasHz }) => Math.abs(aliasHz - seenHz) <= TOLERANCE_HZ + 0.3 / clipSec)
    .map(({ lightHz, aliasHz }) => ({
      lightHz,
      aliasHz: Math.round(aliasHz * 1e3) / 1e3,
      steadyShuttersSec: Array.from(
        { length: Math.floor(lightHz / frameRate + 1e-9) },
        (_, i) => (i + 1) / lightHz,
      ).reverse(),
    }));
