import { useCallback, useEffect, useRef, useState, type RefObject } from 'react';

export interface Playhead {
  readonly frame: number;
  readonly playing: boolean;
  go(frame: number): void;
  /** Goes to a frame without moving the playing copy. */
  step(frame: number): void;
  toggle(): void;
}

export interface Playing {
  /** Times the clip's own speed. */
  readonly speed: number;
  /** Frames between which it plays; both are inside. */
  readonly from: number;
  readonly to: number;
  /** Whether it begins anew at the out point. */
  readonly loop: boolean;
}

/**
 * Where in the clip one is. While it plays the proxy leads; parked, the frame leads and the proxy follows.
 * In the proxy frame n stands at n over the rate.
 * @returns the playhead, and the reference of the element that plays the proxy
 */
export const usePlayhead = (
  frames: number,
  rate: number,
  { speed, from, to, loop }: Playing,
): readonly [Playhead, RefObject<HTMLVideoElement | null>] => {
  const video = useRef<HTMLVideoElement>(null);
  const [frame, setFrame] = useState(0);
  const [playing, setPlaying] = useState(false);
  const clamp = useCallback((f: number) => Math.max(0, Math.min(frames - 1, Math.round(f))), [frames]);
  const seek = useCallback(
    (at: number) => {
      if (video.current) video.current.currentTime = (at + 0.5) / rate;
    },
    [rate],
  );

  const go = useCallback(
    (where: number) => {
      const at = clamp(where);
      video.current?.pause();
      setPlaying(false);
      setFrame(at);
      seek(at);
    },
    [clamp, seek],
  );

  const toggle = useCallback(() => {
    const player = video.current;
    if (!player) return;
    if (!player.paused) {
      go(Math.floor(player.currentTime * rate + 1e-3));
      return;
    }
    if (frame >= to || frame < from) seek(from);
    // A page that may not play says so by staying parked.
    player.play().then(
      () => setPlaying(true),
      () => setPlaying(false),
    );
  }, [frame, from, to, rate, go, seek]);

  useEffect(() => {
    if (video.current) video.current.playbackRate = speed;
  }, [speed, playing]);

  useEffect(() => {
    const player = video.current;
    if (!playing || !player) return;
    let request = 0;
    const end = (): void => {
      if (!loop) return go(to);
      seek(from);
      void player.play();
    };
    const follow = (): void => {
      const at = clamp(Math.floor(player.currentTime * rate + 1e-3));
      setFrame(at);
      if (at > to || (at === to && loop)) {
        end();
        if (!loop) return;
      }
      request = requestAnimationFrame(follow);
    };
    request = requestAnimationFrame(follow);
    player.addEventListener('ended', end);
    return () => {
      cancelAnimationFrame(request);
      player.removeEventListener('ended', end);
    };
  }, [playing, rate, from, to, loop, clamp, go, seek]);

  const step = useCallback((where: number) => setFrame(clamp(where)), [clamp]);

  return [{ frame, playing, go, step, toggle }, video];
};
