import { renderStudy, type StudyClip } from '@bevrin/rig';

const base = { width: 320, height: 180, frames: 40, codec: 'h264' } as const;

/** Small clips for tests of server and pages; what is wrong with them is plain. */
export const CLIPS = {
  clean: { ...base, study: 'wall', seed: 81, camera: { handPx: 0.3 }, noisePct: [0.4, 0.4, 0.4] },
  noisy: { ...base, study: 'wall', seed: 82, camera: { handPx: 0.3 }, noisePct: [5, 5, 5] },
  flickering: {
    ...base,
    study: 'wall',
    seed: 83,
    camera: { handPx: 0.3 },
    noisePct: [0.4, 0.4, 0.4],
    light: { pulseHz: 4, depth: 0.12 },
  },
} as const satisfies Record<string, StudyClip>;

/** Path of a rendered clip. */
export const clipFile = async (name: keyof typeof CLIPS): Promise<string> =>
  (await renderStudy(CLIPS[name])).path;
