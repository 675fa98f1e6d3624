import { CLEAN_CLIPS } from './clean-clips.js';
import type { ScenarioClip } from './clip.js';
import { FAULTY_CLIPS } from './faulty-clips.js';

export const PRODUCTION = 'The Tidewater Line';
export const BATCH = 'Episode 2, camera originals';

/** The Tidewater Line: volunteers rebuild a narrow-gauge railway across a tidal salt marsh. All of it is drawn. */
export const TIDEWATER: readonly ScenarioClip[] = [...FAULTY_CLIPS, ...CLEAN_CLIPS].sort((a, b) =>
  a.name < b.name ? -1 : 1,
);
