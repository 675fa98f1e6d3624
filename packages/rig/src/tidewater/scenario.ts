import type { Codec } from '@bevrin/media';
import { CLEAN_CLIPS } from './clean-clips.js';
import type { ScenarioClip } from './clip.js';
import { FAULTY_CLIPS } from './faulty-clips.js';

export const PRODUCTION = 'The Tidewater Line';
export const BATCH = 'Episode 2, camera originals';

/** Codecs that keep the noise as it was; others take a part of it away, and what is left is no longer what was put in. */
const KEEP_NOISE: readonly Codec[] = ['prores', 'stills', 'ffv1', 'h264Lossless'];

/** A clip that claims nothing of its noise which its file does not hold. */
const withTruthOfFile = (clip: ScenarioClip): ScenarioClip =>
  KEEP_NOISE.includes(clip.codec)
    ? clip
    : { ...clip, truth: (r) => clip.truth(r).filter((t) => !t.reading.startsWith('noise.')) };

/** The Tidewater Line: volunteers rebuild a narrow-gauge railway across a tidal salt marsh. All of it is drawn. */
export const TIDEWATER: readonly ScenarioClip[] = [...FAULTY_CLIPS, ...CLEAN_CLIPS]
  .map(withTruthOfFile)
  .sort((a, b) => (a.name < b.name ? -1 : 1));
