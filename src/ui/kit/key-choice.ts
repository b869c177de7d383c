'use client';

import { useSyncExternalStore } from 'react';

const key = 'hand-stamp single keys';
const listeners = new Set<() => void>();

/**
 * Whether single keys do something (WCAG 2.1.4): on unless this browser's person switched them off;
 * with Alt they always do.
 */
export const keyChoice = {
  on: (): boolean => {
    try {
      return localStorage.getItem(key) !== 'off';
    } catch {
      return true;
    }
  },
  set(on: boolean): void {
    try {
      if (on) localStorage.removeItem(key);
      else localStorage.setItem(key, 'off');
    } catch {
      // a browser that keeps nothing keeps the keys on
    }
    for (const listener of listeners) listener();
  },
};

export function useKeysOn(): boolean {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    keyChoice.on,
    () => true,
  );
}
