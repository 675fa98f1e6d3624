import { renderStudy, type StudyClip } from '@bevrin/rig';

/** Frames of most clips: a second. */
export const FRAMES = 25;
/** Size of most clips, px. */
export const [WIDTH, HEIGHT] = [240, 136];
const base = { width: WIDTH, height: HEIGHT, frames: FRAMES, codec: 'h264' } as const;

const BRIEF = { width: 192, height: 108, frames: 12, study: 'wall', camera: { handPx: 0.3 } } as const;

/** Small clips for tests of server and pages; what is wrong with them is plain. */
export const CLIPS = {
  clean: { ...base, study: 'wall', seed: 81, camera: { handPx: 0.3 }, noisePct: [0.4, 0.4, 0.4] },
  noisy: { ...base, study: 'wall', seed: 82, camera: { handPx: 0.3 }, noisePct: [5, 5, 5] },
  /** Long enough to be looked at frame by frame for a while. */
  longNoisy: { ...base, study: 'wall', seed: 82, camera: { handPx: 0.3 }, frames: 40, noisePct: [5, 5, 5] },
  flickering: {
    ...base,
    frames: 40,
    study: 'wall',
    seed: 83,
    camera: { handPx: 0.3 },
    noisePct: [0.4, 0.4, 0.4],
    light: { pulseHz: 4, depth: 0.12 },
  },
  /** Measured in half the time, where a clip is measured for what happens beside it: one fails, one passes. */
  brief: { ...base, ...BRIEF, seed: 84, noisePct: [5, 5, 5] },
  briefClean: { ...base, ...BRIEF, seed: 85, noisePct: [0.4, 0.4, 0.4] },
} as const satisfies Record<string, StudyClip>;

/** Path of a rendered clip. */
export const clipFile = async (name: keyof typeof CLIPS): Promise<string> =>
  (await renderStudy(CLIPS[name])).path;
