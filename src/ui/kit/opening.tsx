'use client';

import { VisuallyHidden } from './controls';

/** A page that is on its way: nothing that would flash, and a word for whoever hears it. */
export function Opening() {
  return (
    <main>
      <VisuallyHidden role="status">Opening the page …</VisuallyHidden>
    </main>
  );
}
