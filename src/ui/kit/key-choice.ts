'use client';

import { useSyncExternalStore } from 'react';
import { remembered } from './remembered';

const key = 'hand-stamp single keys';
const listeners = new Set<() => void>();

/**
 * Whether single keys do something (WCAG 2.1.4): on unless this browser's person switched them off;
 * with Alt they always do.
 */
export const keyChoice = {
  on: (): boolean => remembered.get(key) !== 'off',
  set(on: boolean): void {
    remembered.set(key, on ? undefined : 'off');
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
