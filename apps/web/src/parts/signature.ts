import { useSyncExternalStore } from 'react';

const KEY = 'bevrin.who';
const listeners = new Set<() => void>();

const subscribe = (listener: () => void): (() => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

/** Who sits here, as every request carries it; empty where nobody has said. */
export const signature = (): string => localStorage.getItem(KEY) ?? '';

/** Who sits here: every decision is kept with this name. It stays in this browser. */
export const useSignature = (): [string, (name: string) => void] => {
  const who = useSyncExternalStore(subscribe, signature);
  return [
    who,
    (name) => {
      localStorage.setItem(KEY, name);
      listeners.forEach((tell) => tell());
    },
  ];
};
