'use client';

import { useSyncExternalStore } from 'react';

/** One sideways position and one column in hand, shared by the headings and every row of a table. */
function create() {
  let state = { x: 0, width: 800, cell: 0 };
  const listeners = new Set<() => void>();
  const set = (next: Partial<typeof state>) => {
    const merged = { ...state, ...next };
    if (merged.x === state.x && merged.width === state.width && merged.cell === state.cell) return;
    state = merged;
    for (const listener of listeners) listener();
  };
  return {
    moveTo: (x: number) => set({ x }),
    moveBy: (dx: number, total: number) => dx !== 0 && set({ x: Math.max(0, Math.min(state.x + dx, total - state.width)) }),
    /** Takes a column in hand and brings it into sight. */
    take: (cell: number, cellWidth: number) =>
      set({ cell, x: Math.max((cell + 1) * cellWidth - state.width, Math.min(state.x, cell * cellWidth), 0) }),
    setWidth: (width: number) => set({ width }),
    now: () => state,
    use: () =>
      useSyncExternalStore(
        (listener) => (listeners.add(listener), () => listeners.delete(listener)),
        () => state,
        () => state,
      ),
  };
}

export const cellWidth = 148;
/** Of the records' table. */
export const scroll = create();
