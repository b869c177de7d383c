'use client';

import { useSyncExternalStore } from 'react';

/** One sideways position shared by the headings and every row of a table. */
export function create() {
  let state = { x: 0, width: 800 };
  const listeners = new Set<() => void>();
  const set = (next: Partial<typeof state>) => {
    const merged = { ...state, ...next };
    if (merged.x === state.x && merged.width === state.width) return;
    state = merged;
    for (const listener of listeners) listener();
  };
  return {
    moveTo: (x: number) => set({ x }),
    moveBy: (dx: number, total: number) => dx !== 0 && set({ x: Math.max(0, Math.min(state.x + dx, total - state.width)) }),
    setWidth: (width: number) => set({ width }),
    use: () =>
      useSyncExternalStore(
        (listener) => (listeners.add(listener), () => listeners.delete(listener)),
        () => state,
        () => state,
      ),
  };
}
