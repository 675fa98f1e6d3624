import { useEffect } from 'react';

/** The server is told this often where the playing has come to, frames. */
const EVERY = 4;

/** While a clip plays, the server decodes along: where it is stopped, the exact frame is there. */
export const useExpect = (clipId: string, frame: number, playing: boolean, frames: number): void => {
  const about = playing ? Math.floor(frame / EVERY) * EVERY : -1;
  useEffect(() => {
    if (about < 0) return;
    // What does not arrive is asked for again when the clip is parked.
    void fetch(`/api/clips/${clipId}/frames/${Math.min(frames - 1, about + EVERY)}/expect`, {
      method: 'POST',
    }).catch(() => undefined);
  }, [clipId, about, frames]);
};
