import { useEffect, useRef, useState, type RefObject } from 'react';

/** The size of an element on the page, px, as it changes. */
export const useSize = <E extends HTMLElement>(): readonly [
  RefObject<E | null>,
  { readonly width: number; readonly height: number },
] => {
  const element = useRef<E>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const node = element.current;
    if (!node) return;
    const observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry.contentRect;
      setSize({ width, height });
    });
    observer.observe(node);
    return () => observer.disconnect();
  }, []);
  return [element, size];
};
