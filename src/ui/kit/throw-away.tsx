'use client';

import { useState } from 'react';
import { ErrorLine, PlainButton, QuietButton, Small } from './controls';
import { throwAway as wording } from './words';
import { withParts } from './with-parts';

/** Deletes something for good: asks once, and says what is deleted with it. */
export function ThrowAway({
  what,
  says,
  onThrow,
}: {
  what: string;
  says: string;
  onThrow: () => Promise<unknown>;
}) {
  const [asked, setAsked] = useState(false);
  const [state, setState] = useState<'idle' | 'busy' | { error: string }>('idle');
  if (!asked)
    return (
      <PlainButton
        onPress={() => setAsked(true)}
        style={{ justifySelf: 'start', padding: '2px 0', textDecoration: 'underline' }}
      >
        {withParts(wording.delete, what)}
      </PlainButton>
    );
  return (
    <div style={{ display: 'grid', gap: 8, maxWidth: 340 }}>
      <p>{says}</p>
      <div style={{ display: 'flex', gap: 8 }}>
        <QuietButton
          isDisabled={state === 'busy'}
          onPress={() => {
            setState('busy');
            onThrow().catch((error: unknown) =>
              setState({ error: error instanceof Error ? error.message : String(error) }),
            );
          }}
        >
          {wording.deletePermanently}
        </QuietButton>
        <PlainButton
          isDisabled={state === 'busy'}
          onPress={() => (setAsked(false), setState('idle'))}
        >
          {wording.cancel}
        </PlainButton>
      </div>
      {state === 'busy' && <Small role="status">{wording.deleting}</Small>}
      {typeof state === 'object' && <ErrorLine>{state.error}</ErrorLine>}
    </div>
  );
}
