import { expecting, type Treatment } from '../treatment.js';

/** Blurred frames are rebuilt of the sharp ones about them. */
export const rebuildFrames: Treatment = {
  treatment: 'rebuildFrames',
  defect: 'softness',
  readings: ['softFramesPct'],
  precedes: 'Neighbours can only stand in for a blurred frame once they lie still against it.',
  propose: (finding, { readings: { softness } }) => {
    if (softness.state !== 'measured') return null;
    const { softFrames } = softness.values;
    const good = softFrames.filter((r) => r.recoverable);
    const lost = softFrames.length - good.length;
    const longest = Math.max(0, ...softFrames.map((r) => r.endFrame - r.startFrame + 1));
    if (good.length === 0)
      return softFrames.length === 0
        ? null
        : {
            instead: softFrames.some((r) => r.cause === 'focus') ? 'replace' : 'shoot again',
            because: `Up to ${longest} frames in a row are soft, and no sharp frame of the same content stands close by: there is nothing to rebuild them from.`,
          };
    const saved = good.reduce((n, r) => n + r.endFrame - r.startFrame + 1, 0);
    const all = softFrames.reduce((n, r) => n + r.endFrame - r.startFrame + 1, 0);
    return {
      settings: {
        frames: good.map((r) => [r.startFrame, r.endFrame]),
        neighboursEachSide: 2,
      },
      expect: expecting(finding, finding.value * (1 - saved / all)),
      risks: [
        'Whatever moves by itself ghosts in a rebuilt frame.',
        ...(lost > 0
          ? [
              `${lost} longer ${lost === 1 ? 'stretch has' : 'stretches have'} no sharp neighbours and cannot be rebuilt.`,
            ]
          : []),
      ],
      where: { startFrame: good[0].startFrame, endFrame: good[good.length - 1].endFrame },
      fallback: ['Where a subject ghosts, rebuild the background only and keep the blurred subject.'],
      check: [`Step from frame ${Math.max(0, good[0].startFrame - 2)} on, one by one.`],
      cost: { renderWeight: 1.5, artistMinutes: 3 + good.length * 2, cropPct: 0 },
      because: `${saved} soft ${saved === 1 ? 'frame stands' : 'frames stand'} between sharp ones.`,
      chance: lost > 0 ? 0.5 : 0.75,
    };
  },
};
