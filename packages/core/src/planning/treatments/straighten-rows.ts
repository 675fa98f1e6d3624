import { expecting, round, type Treatment } from '../treatment.js';

const SUBJECT_MISLEADS_PCT = 12;

/** Rows are moved to where they were when the middle one was read. */
export const straightenRows: Treatment = {
  treatment: 'straightenRows',
  defect: 'rollingShutter',
  precedes: 'Steadying needs straight rows: what leans with the movement cannot be set upright afterwards.',
  propose: (finding, { clip, readings: { rollingShutter, shake } }) => {
    if (rollingShutter.state !== 'measured') return null;
    const { readoutMs, readoutFraction, wobblePx } = rollingShutter.values;
    const moving = shake.state === 'measured' ? shake.values.movingSubjectPct : 0;
    return {
      settings: {
        readoutMs: round(readoutMs),
        rowTimeUs: round((1000 * readoutMs) / clip.height, 3),
        readoutPctOfFrame: round(100 * readoutFraction, 1),
      },
      expect: expecting(finding, finding.value * 0.15),
      risks: [
        'What moves by itself is bent by the correction that straightens the rest.',
        ...(moving > SUBJECT_MISLEADS_PCT
          ? [`${round(moving, 0)} % of the picture goes its own way: mask it.`]
          : []),
      ],
      check: [
        'Lay a straight-edge over a mast or a door frame in the fastest pan.',
        'Look at the corners for black.',
      ],
      fallback: [
        'Straighten by half of the read-out: a lens that breathes or a zoom can look like a part of it.',
        'Where a subject bends, mask it and leave it leaning.',
      ],
      cost: { renderWeight: 2, artistMinutes: 6, cropPct: round((100 * wobblePx) / clip.width, 1) },
      because: `The sensor takes ${round(readoutMs, 1)} ms from its first row to its last; rows lie ${round(wobblePx, 1)} px off on average.`,
      chance: 0.75,
    };
  },
};
