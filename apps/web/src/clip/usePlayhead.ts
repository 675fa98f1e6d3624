import { useCallback, useEffect, useRef, useState, type RefObject } from 'react';

export interface Playhead {
  readonly frame: number;
  readonly playing: boolean;
  go(frame: number): void;
  toggle(): void;
}

/**
 * Where in the clip one is. While it plays the proxy leads; parked, the frame leads and the proxy follows.
 * In the proxy frame n stands at n over the rate.
 * @returns the playhead, and the reference of the element that plays the proxy
 */
export const usePlayhead = (
  frames: number,
  rate: number,
): readonly [Playhead, RefObject<HTMLVideoElement | null>] => {
  const video = useRef<HTMLVideoElement>(null);
  const [frame, setFrame] = useState(0);
  const [playing, setPlaying] = useState(false);
  const clamp = useCallback((f: number) => Math.max(0, Math.min(frames - 1, Math.round(f))), [frames]);

  const go = useCallback(
    (to: number) => {
      const at = clamp(to);
      const player = video.current;
      player?.pause();
      setPlaying(false);
      setFrame(at);
      if (player) player.currentTime = (at + 0.5) / rate;
    },
    [clamp, rate],
  );

  const toggle = useCallback(() => {
    const player = video.current;
    if (!player) return;
    if (!player.paused) {
      go(Math.floor(player.currentTime * rate + 1e-3));
      return;
    }
    if (frame >= frames - 1) player.currentTime = 0;
    // A page that may not play says so by staying parked.
    player.play().then(
      () => setPlaying(true),
      () => setPlaying(false),
    );
  }, [frame, frames, rate, go]);

  useEffect(() => {
    const player = video.current;
    if (!playing || !player) return;
    let request = 0;
    const follow = (): void => {
      setFrame(clamp(Math.floor(player.currentTime * rate + 1e-3)));
      request = requestAnimationFrame(follow);
    };
    const end = (): void => go(frames - 1);
    request = requestAnimationFrame(follow);
    player.addEventListener('ended', end);
    return () => {
      cancelAnimationFrame(request);
      player.removeEventListener('ended', end);
    };
  }, [playing, rate, frames, clamp, go]);

  return [{ frame, playing, go, toggle }, video];
};
