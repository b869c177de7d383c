'use client';

import { useRouter } from 'next/navigation';
import { startTransition, useEffect } from 'react';
import { PlainButton } from '@/ui/kit/controls';

/**
 * A page that could not be made: most often the database is being started again, so it is tried by
 * itself.
 */
export default function PageError({
  error,
  reset,
}: {
  error: Error & { digest?: string };
  reset: () => void;
}) {
  const router = useRouter();
  const again = () =>
    startTransition(() => {
      router.refresh();
      reset();
    });
  useEffect(() => {
    const timer = setTimeout(again, 3000);
    return () => clearTimeout(timer);
  });
  return (
    <main style={{ padding: 30 }} role="alert">
      <h1>This page could not be shown just now</h1>
      <p>
        Most often the database is being started again, which takes a few seconds. Nothing that was
        saved is lost, and the page is tried again by itself.
      </p>
      <PlainButton onPress={again}>Try it now</PlainButton>
      {error.digest && <p>For whoever looks into the log: {error.digest}</p>}
    </main>
  );
}
