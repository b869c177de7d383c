'use client';

import { useRouter } from 'next/navigation';
import { startTransition, useEffect } from 'react';
import { ask } from './api';
import { PlainButton } from './controls';
import { pageError as wording } from './words';
import { withParts } from './with-parts';

export interface PageErrorProps {
  error: Error & { digest?: string };
  reset: () => void;
}

/** When this window was last begun anew by itself, in ms of `Date.now()`. */
const renewedKey = 'hand-stamp:begun-anew';
/** A window that could not be helped by beginning anew is left alone for so long, in ms. */
const renewedAgainAfter = 60_000;

/**
 * A page that could not be made: most often the database is being started again, so it is tried by
 * itself. Where a part of the program is not there any more, it was renewed under an open window,
 * which then begins anew as soon as the server is there.
 */
export function PageError({ error, reset }: PageErrorProps) {
  const router = useRouter();
  const renewed = error.name === 'ChunkLoadError';
  const again = () =>
    renewed
      ? location.reload()
      : startTransition(() => {
          router.refresh();
          reset();
        });
  useEffect(() => {
    const timer = setInterval(() => {
      if (!renewed) return again();
      const last = Number(sessionStorage.getItem(renewedKey) ?? 0);
      if (Date.now() - last < renewedAgainAfter) return;
      ask('health', { query: { only: 'live' } }).then(
        () => {
          sessionStorage.setItem(renewedKey, String(Date.now()));
          again();
        },
        () => undefined,
      );
    }, 3000);
    return () => clearInterval(timer);
  });
  return (
    <main style={{ padding: 30, maxWidth: '40rem' }} role="alert">
      <h1>{wording.thisPageCouldNot}</h1>
      <p>{renewed ? wording.handStampWasUpdated : wording.theDatabaseIsProbably}</p>
      <PlainButton looks onPress={again}>
        {wording.tryNow}
      </PlainButton>
      {error.digest && <p>{withParts(wording.forTheLog, error.digest)}</p>}
    </main>
  );
}
