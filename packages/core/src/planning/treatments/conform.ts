import type { Measurement, Step } from '#document';
import type { Treatment } from '../treatment.js';

/** How the rows are read: as the picture shows them, where it does. */
const scanSettings = (
  reading: string,
  { scan, scanSeen, fieldOrder, fieldOrderSeen }: Measurement['clip'],
): Step['settings'] => {
  const is = scanSeen ?? scan;
  const firstField = fieldOrderSeen ?? fieldOrder ?? 'not stated: try top first';
  if (reading === 'scanTag') return is === 'interlaced' ? { readAs: is, firstField } : { readAs: is };
  return is === 'interlaced' ? { deinterlace: true, firstField } : {};
};

/** Facts that are put right by decoding the clip once, to another shape. */
export const conform: Treatment = {
  treatment: 'conform',
  defect: 'conform',
  readings: [
    'frameRate',
    'variableFrameRate',
    'interlaced',
    'scanTag',
    'repeatedPct',
    'lostFrames',
    'range',
    'bitDepth',
  ],
  precedes: 'Rate and scan come first: every repair over time counts frames.',
  propose: (finding, { clip }) => ({
    settings: {
      fact: finding.reading,
      ...(clip.repeatEvery ? { dropEvery: clip.repeatEvery } : {}),
      ...(finding.reading === 'frameRate' ? { toRate: finding.pass } : {}),
      ...scanSettings(finding.reading, clip),
    },
    expect: { reading: finding.reading, unit: finding.unit, from: finding.value, to: finding.pass },
    risks: ['Frames that are made up in between ghost where things move fast.'],
    check: ['Play a pan at full speed and look for stutter.', 'Check that sound still fits.'],
    fallback: ['Ask the sender for a transfer at the rate, scan and range of the delivery.'],
    cost: { renderWeight: 1, artistMinutes: 5, cropPct: 0 },
    because: finding.because,
    chance: 0.9,
  }),
};
