import { useLayoutEffect, useRef, useState, type RefObject } from 'react';

/** The size inside of an element's padding, px, before it is first painted and as it changes. */
export const useSize = <E extends HTMLElement>(): readonly [
  RefObject<E | null>,
  { readonly width: number; readonly height: number },
] => {
  const element = useRef<E>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  useLayoutEffect(() => {
    const node = element.current;
    if (!node) return;
    setSize(insideOf(node));
    const observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry.contentRect;
      setSize({ width, height });
    });
    observer.observe(node);
    return () => observer.disconnect();
  }, []);
  return [element, size];
};

/** What a `ResizeObserver` will say of an element, at once. */
const insideOf = (node: HTMLElement): { width: number; height: number } => {
  const { paddingLeft, paddingRight, paddingTop, paddingBottom } = getComputedStyle(node);
  const padding = (a: string, b: string): number => parseFloat(a) + parseFloat(b);
  return {
    width: node.clientWidth - padding(paddingLeft, paddingRight),
    height: node.clientHeight - padding(paddingTop, paddingBottom),
  };
};
