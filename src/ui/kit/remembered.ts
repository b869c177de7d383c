'use client';

/**
 * What this browser remembers between visits, by name. If the browser stores nothing, or has no
 * space left, every name is empty, as at the first visit.
 */
export const remembered = {
  get(name: string): string | null {
    try {
      return localStorage.getItem(name);
    } catch {
      return null;
    }
  },
  /** @param value undefined forgets it */
  set(name: string, value: string | undefined): void {
    try {
      if (value === undefined) localStorage.removeItem(name);
      else localStorage.setItem(name, value);
    } catch {
      // it lasts as long as the page
    }
  },
};
