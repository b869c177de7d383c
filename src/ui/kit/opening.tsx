'use client';

import { VisuallyHidden } from './controls';
import { opening as wording } from './words';

/** A page that is loading: nothing that would flash, and a word for screen readers. */
export function Opening() {
  return (
    <main>
      <VisuallyHidden role="status">{wording.openingThePage}</VisuallyHidden>
    </main>
  );
}
