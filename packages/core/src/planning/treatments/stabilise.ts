import { rationalToNumber, type Measurement } from '#document';
import { expecting, numberIn, round, type Treatment } from '../treatment.js';

/** Movement slower than this passes through a smoothing window of one second; shorter windows take out less. */
const WINDOW_SEC = 1;

/** What a stabiliser leaves of jitter that it can follow. */
const LEAVES = 0.12;

/** Beyond this crop the picture is worth less than the shake. */
const MOST_CROP_PCT = 20;

/** Turn about the middle that shows, degrees. */
const TURN_SHOWS = 0.03;

const SUBJECT_MISLEADS_PCT = 12;

/** The picture is moved against the jitter, and its border given up. */
export const stabilise: Treatment = {
  treatment: 'stabilise',
  defect: 'shake',
  precedes: 'It crops the picture, so that everything that sits still on the sensor must be mended before.',
  revise: (settings, task, { readings: { shake } }) => {
    if (shake.state !== 'measured') return null;
    const strength = Math.min(1, numberIn(settings, 'strengthPct', 100) / 100);
    return {
      expect: expecting(task, task.value * (1 - strength * (1 - LEAVES))),
      cost: { renderWeight: 2.5, artistMinutes: 10, cropPct: round(shake.values.cropPct * strength, 1) },
    };
  },
  propose: (finding, { clip, readings: { shake } }) => {
    if (shake.state !== 'measured') return null;
    const { jitterPctWidth, jitterRmsDeg, cropPct, movingSubjectPct, dominantHz, camera } = shake.values;
    const rate = rationalToNumber(clip.frameRate);
    // Full correction leaves LEAVES of the jitter; a part of it is enough where that meets the limit.
    const strength = Math.max(0.3, Math.min(1, (1 - finding.target / jitterPctWidth) / (1 - LEAVES)));
    const crop = round(cropPct * strength, 1);
    if (crop > MOST_CROP_PCT)
      return {
        instead: 'replace',
        because: `To steady it would take ${crop} % of the picture on each axis and leave ${left(clip, crop)}: more than the ${MOST_CROP_PCT} % that a picture can lose. Replace the shot, or shoot it again.`,
      };
    const remains = jitterPctWidth * (1 - strength * (1 - LEAVES));
    return {
      settings: {
        smoothingFrames: Math.max(3, Math.round(WINDOW_SEC * rate)),
        strengthPct: round(100 * strength, 0),
        motionModel: jitterRmsDeg > TURN_SHOWS ? 'position and rotation' : 'position',
        cropPct: crop,
        keepMove: camera !== 'locked-off',
      },
      expect: expecting(finding, remains),
      risks: [
        `${crop} % of the picture is lost at the edges: ${left(clip, crop)} are left.`,
        'Frames that the shake blurred stay blurred, and show more once they stand still.',
        ...(movingSubjectPct > SUBJECT_MISLEADS_PCT
          ? [
              `${round(movingSubjectPct, 0)} % of the picture does not follow the camera: mask it, or it drags the path.`,
            ]
          : []),
      ],
      check: [
        'Look at straight lines for bending; if they bend, use position only.',
        'Look at the edges for black, and for a zoom that nobody asked for.',
      ],
      fallback: [
        'If it warps, use a simpler motion model: position and rotation, then position alone.',
        'Two gentle passes, each half as strong, can beat one that is strong.',
        ...(movingSubjectPct > SUBJECT_MISLEADS_PCT ? ['Mask what moves by itself, and track again.'] : []),
      ],
      cost: { renderWeight: 2.5, artistMinutes: 10, cropPct: crop },
      because: `The picture swings by ${round(jitterPctWidth, 2)} % of its width${dominantHz ? `, mostly at ${round(dominantHz, 1)} Hz` : ''}; ${round(100 * strength, 0)} % of it has to go.`,
      chance: movingSubjectPct > 30 ? 0.55 : 0.85,
    };
  },
};

/** The picture that a crop leaves. */
const left = ({ width, height }: Measurement['clip'], cropPct: number): string =>
  `${Math.round(width * (1 - cropPct / 100))}×${Math.round(height * (1 - cropPct / 100))}`;
