import { useEffect, useRef } from 'react';

/** Calls something when this part of the page, or the whole page, is left. */
export const useLeaving = (leave: () => void): void => {
  const latest = useRef(leave);
  useEffect(() => void (latest.current = leave));
  useEffect(() => {
    const left = (): void => latest.current();
    const hidden = (): void => {
      if (document.visibilityState === 'hidden') left();
    };
    window.addEventListener('pagehide', left);
    document.addEventListener('visibilitychange', hidden);
    return () => {
      window.removeEventListener('pagehide', left);
      document.removeEventListener('visibilitychange', hidden);
      left();
    };
  }, []);
};
