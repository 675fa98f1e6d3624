import { expecting, numberIn, round, type Treatment } from '../treatment.js';

/** Detail that fills the picture to this share needs no scaling. */
const FILLS = { interpolation: 0.95, edges: 0.75 } as const;
/** Where edges alone tell the size, less detail than of half the size is rather that of a soft lens. */
const LEAST = { interpolation: 0, edges: 0.48 } as const;

/** What the enlargement took from the detail, in part: more draws lines beside edges. */
const RESTORE_PCT = 60;

/** Share of the blur that goes where everything is restored; a good enlargement alone takes next to nothing. */
const BLUR_TAKEN = 0.25;

/** What was blown up is brought to the size of its detail and enlarged once, well. */
export const scale: Treatment = {
  treatment: 'scale',
  defect: 'softness',
  readings: ['blurSigmaPx'],
  precedes:
    'It comes once, before anything is steepened: sharpening what is scaled afterwards draws its halos wider.',
  revise: (settings, task) => ({
    expect: expecting(
      task,
      task.value * (1 - (BLUR_TAKEN * Math.min(100, numberIn(settings, 'restorePct', RESTORE_PCT))) / 100),
    ),
    cost: COST,
  }),
  propose: (task, { clip, readings: { softness } }) => {
    if (softness.state !== 'measured') return null;
    const { effectiveScale, effectiveWidth, scaleFrom } = softness.values;
    if (effectiveScale >= FILLS[scaleFrom] || effectiveScale < LEAST[scaleFrom]) return null;
    const sure = scaleFrom === 'interpolation';
    return {
      settings: {
        nativeScale: round(effectiveScale),
        restorePct: RESTORE_PCT,
        enlargedBy: 'cubic',
      },
      expect: expecting(task, task.value * (1 - (BLUR_TAKEN * RESTORE_PCT) / 100)),
      risks: [
        'Lines beside hard edges, where too much is restored.',
        ...(sure
          ? []
          : [
              'Its edges alone tell the size: if the lens was soft and nothing was enlarged, this does nothing.',
            ]),
      ],
      check: [
        'Look at fine lines at actual size, before against after.',
        'Keep what came, so that the step can be undone.',
      ],
      fallback: [
        `Ask for the file before it was enlarged, ${effectiveWidth} px wide, and scale that once.`,
        ...(sure ? [] : ['If it was never enlarged, drop this step and sharpen alone.']),
      ],
      cost: COST,
      because: `Its detail is that of a picture ${sure ? '' : 'at most '}${effectiveWidth} px wide, shown at ${clip.width}: it is brought to that size and enlarged once.`,
      chance: sure ? 0.6 : 0.3,
      worth: 0.5,
    };
  },
};

const COST = { renderWeight: 1, artistMinutes: 4, cropPct: 0 };
