import { expecting, round, type Treatment } from '../treatment.js';

/** Patterns are taken out where they lie, colour first. */
export const reduceMoire: Treatment = {
  treatment: 'reduceMoire',
  defect: 'moire',
  precedes: 'Scaling and sharpening would make the pattern plainer.',
  propose: (finding, { readings: { moire } }) => {
    if (moire.state !== 'measured') return null;
    const { patterns } = moire.values;
    if (patterns.length === 0) return null;
    const colour = patterns.some((p) => p.kind === 'colour');
    const luma = patterns.some((p) => p.kind === 'luma');
    const [worst] = patterns;
    return {
      settings: {
        regions: patterns.map((p) => [p.x, p.y, p.width, p.height]),
        chromaRadiusPx: round(worst.periodPx * 0.75, 1),
        // Under false colour the same pattern lies in luma, and shows when the colour has gone.
        lumaRadiusPx: round(worst.periodPx * 0.4, 1),
        first: colour ? 'chroma' : 'luma',
      },
      expect: expecting(finding, finding.value * (luma ? 0.45 : 0.2)),
      risks: [
        'Strong smoothing in the region takes the cloth with it.',
        ...(luma ? ['A luma pattern goes only with the detail of its size.'] : []),
      ],
      check: [
        'Look at the region at actual size while it moves.',
        'Look for colour that bleeds over its edge.',
      ],
      where: {
        regions: patterns.slice(0, 40).map(({ periodPx: _p, kind: _k, crawlPxPerFrame: _c, ...at }) => at),
      },
      fallback: ['If the cloth goes flat, treat chroma alone and leave the luma pattern.'],
      cost: { renderWeight: 1, artistMinutes: 6 + 4 * patterns.length, cropPct: 0 },
      because: `${patterns.length === 1 ? 'A pattern' : `${patterns.length} patterns`} of ${round(worst.periodPx, 1)} px ${worst.crawlPxPerFrame ? `${patterns.length === 1 ? 'crawls' : 'crawl'} ${round(worst.crawlPxPerFrame, 1)} px a frame against the scene` : `${patterns.length === 1 ? 'has' : 'have'} no detail beside it`}.`,
      chance: luma ? 0.5 : 0.8,
    };
  },
};
