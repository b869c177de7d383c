'use client';

import { VisuallyHidden } from './controls';
import { opening as wording } from './words';

/** A page that is on its way: nothing that would flash, and a word for whoever hears it. */
export function Opening() {
  return (
    <main>
      <VisuallyHidden role="status">{wording.openingThePage}</VisuallyHidden>
    </main>
  );
}
