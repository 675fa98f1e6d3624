import { expecting, round, type Treatment } from '../treatment.js';

/** The re-blur that a sharpening mask starts from lies this much above the blur itself. */
const RADIUS_OVER_BLUR = 1.15;
/** Blur beyond this cannot be sharpened back: what is gone is below the noise. */
const MOST_SHARPENED_PX = 2.2;
/** Sharpening a picture raises its noise by about this much. */
const LEAST_THRESHOLD_SIGMAS = 3;
/** Codes of 10 bits that one code of 8 holds. */
const WORKING_BITS = 10;

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
        lumaRadiusPx: luma ? round(worst.periodPx * 0.4, 1) : 0,
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

export const deband: Treatment = {
  treatment: 'deband',
  defect: 'banding',
  precedes: 'Scaling spreads the steps; and grain laid over them comes last.',
  propose: (finding, { clip, readings: { banding } }) => {
    if (banding.state !== 'measured') return null;
    const { stepPct, areaPct } = banding.values;
    return {
      settings: {
        thresholdPct: round(1.2 * stepPct),
        radiusPx: Math.round(clip.width / 60),
        ditherPct: round(0.4 * stepPct),
        workingBits: Math.max(WORKING_BITS, clip.bitDepth),
      },
      expect: expecting(finding, finding.value * 0.15),
      risks: ['Faint texture below the threshold goes with the steps: plaster, haze, skin.'],
      check: ['Lift the shadows and look at the sky.', 'Look at faint clouds and walls for smearing.'],
      fallback: ['If faint texture goes, work on the sky alone, or add grain over the steps instead.'],
      cost: { renderWeight: 1.2, artistMinutes: 6, cropPct: 0 },
      because: `${round(areaPct, 0)} % of the picture steps by ${round(stepPct)} % of the range; the gradient is rebuilt at ${Math.max(WORKING_BITS, clip.bitDepth)} bits and dithered.`,
      chance: 0.8,
    };
  },
};

export const sharpen: Treatment = {
  treatment: 'sharpen',
  defect: 'softness',
  readings: ['blurSigmaPx'],
  precedes: 'It comes at the very end: it raises grain and draws halos round whatever is left.',
  propose: (finding, { clip, readings: { softness, noise } }) => {
    if (softness.state !== 'measured') return null;
    const { blurSigmaPx, effectiveScale, effectiveWidth } = softness.values;
    const sigma = noise.state === 'measured' ? noise.values.lumaPct : 1;
    return {
      settings: {
        radiusPx: round(blurSigmaPx * RADIUS_OVER_BLUR),
        strengthPct: round(Math.min(150, 60 + 40 * (blurSigmaPx / finding.target)), 0),
        thresholdPct: round(LEAST_THRESHOLD_SIGMAS * sigma),
        nativeScale: round(effectiveScale),
      },
      expect: expecting(finding, blurSigmaPx > MOST_SHARPENED_PX ? blurSigmaPx * 0.85 : blurSigmaPx * 0.7),
      risks: [
        'Halos along hard edges, and skin that looks hard: limit it to edges.',
        ...(sigma > 1 ? [`The noise of ${round(sigma)} % rises with it: reduce it before.`] : []),
      ],
      check: [
        'Set it beside a sharp clip of the batch at the same zoom.',
        'Look along the brightest edge for a halo.',
      ],
      fallback: [
        'Sharpen half as much and only the eyes and edges that carry the picture, or leave it soft and waive.',
      ],
      cost: { renderWeight: 0.8, artistMinutes: 8, cropPct: 0 },
      because: `Its edges are blurred by ${round(blurSigmaPx)} px: the detail of a picture ${effectiveWidth} px wide, shown at ${clip.width}. If it was blown up, scale once from the original.`,
      chance: blurSigmaPx > MOST_SHARPENED_PX ? 0.2 : 0.5,
    };
  },
};
