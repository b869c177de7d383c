'use client';
import { useState, type ComponentType } from 'react';

/** Something whose script comes after what is shown first. */
export type Late = ComponentType & {
  /** Fetches it ahead; shown after that, it is there at once. It never fails: see `isHere`. */
  ahead: () => Promise<void>;
  isHere: () => boolean;
};

/**
 * A component that is fetched when it is first shown, or ahead of that.
 *
 * @param byAndBy the same, as `next/dynamic` brings it: with the page where the page shows it
 * @param fetchIt fetches it ahead; what is there already is shown without a moment of nothing
 */
export function late(byAndBy: ComponentType, fetchIt: () => Promise<ComponentType>): Late {
  let here: ComponentType | undefined;
  function Shown() {
    // as it was when this was put up: changing it later would lose what is being typed
    const [Is] = useState(() => here ?? byAndBy);
    return <Is />;
  }
  return Object.assign(Shown, {
    isHere: () => here !== undefined,
    ahead: async () => {
      here ??= await fetchIt().catch(() => undefined);
    },
  });
}
