'use client';

import { useSyncExternalStore } from 'react';
import { remembered } from '../../kit/remembered';

/** Default width of a column, in px. */
export const cellWidth = 148;
export const narrowest = 56;
export const widest = 720;

interface State {
  x: number;
  width: number;
  /** The selected column. */
  cell: number;
  /** Somebody selected that cell, by pointer or arrow key, so typing goes into it. */
  picked: boolean;
  /** The left edge of each column, and last the right edge of all, in px. */
  edges: readonly number[];
}

/**
 * One horizontal position, one selected column and the column widths, shared by the headings and
 * every row of a table.
 */
function create() {
  let state: State = { x: 0, width: 800, cell: 0, picked: false, edges: [0] };
  const listeners = new Set<() => void>();
  const set = (next: Partial<State>) => {
    const merged = { ...state, ...next };
    if (
      merged.x === state.x &&
      merged.width === state.width &&
      merged.cell === state.cell &&
      merged.picked === state.picked &&
      merged.edges === state.edges
    )
      return;
    state = merged;
    for (const listener of listeners) listener();
  };
  const total = () => state.edges.at(-1) ?? 0;
  const within = (x: number) => Math.max(0, Math.min(x, total() - state.width));
  return {
    moveTo: (x: number) => set({ x }),
    moveBy: (dx: number) => dx !== 0 && set({ x: within(state.x + dx) }),
    /** Selects a column and scrolls to it. */
    take: (cell: number) => {
      const [from, to] = [state.edges[cell] ?? 0, state.edges[cell + 1] ?? 0];
      set({ cell, picked: true, x: Math.max(to - state.width, Math.min(state.x, from), 0) });
    },
    /** Keys are shortcuts again. */
    leave: () => set({ picked: false }),
    setWidth: (width: number) => set({ width }),
    setWidths: (widths: readonly number[]) => {
      const edges = [0];
      for (const width of widths) edges.push(edges.at(-1)! + width);
      if (edges.length === state.edges.length && edges.every((e, i) => e === state.edges[i]))
        return;
      set({ edges });
      set({ x: within(state.x) });
    },
    now: () => state,
    use: () =>
      useSyncExternalStore(
        (listener) => (listeners.add(listener), () => listeners.delete(listener)),
        () => state,
        () => state,
      ),
  };
}

/** Of the records' table. */
export const scroll = create();

const key = (list: number): string => `hand-stamp widths of list ${list}`;
const changed = new Set<() => void>();
/** The remembered state of a list, as text. */
const keptOf = (list: number): string => remembered.get(key(list)) ?? '{}';

/** Widths that this browser's person has pulled columns of a list to, by column id. */
export const pulled = {
  of(list: number): Record<string, number> {
    try {
      const kept: unknown = JSON.parse(keptOf(list));
      return kept && typeof kept === 'object' ? (kept as Record<string, number>) : {};
    } catch {
      return {};
    }
  },
  keep(list: number, column: string, width: number | undefined): void {
    const widths = pulled.of(list);
    if (width === undefined) delete widths[column];
    else widths[column] = Math.round(Math.min(widest, Math.max(narrowest, width)));
    remembered.set(key(list), JSON.stringify(widths));
    for (const listener of changed) listener();
  },
  use(list: number): string {
    return useSyncExternalStore(
      (listener) => (changed.add(listener), () => changed.delete(listener)),
      () => keptOf(list),
      () => '{}',
    );
  },
};
