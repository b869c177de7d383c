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

/** When this window last reloaded itself, in ms of `Date.now()`. */
const renewedKey = 'hand-stamp:begun-anew';
/** A window that a reload did not help is left alone for so long, in ms. */
const renewedAgainAfter = 60_000;

/**
 * A page that could not be rendered. Most often the database is restarting, so it tries again by
 * itself. If a part of the program is missing, the program was updated under an open window, which
 * then reloads as soon as the server answers.
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
