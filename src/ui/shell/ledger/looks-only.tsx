'use client';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { ask } from '../../kit/api';
import { ErrorLine, Part, QuietButton } from '../../kit/controls';
import { useJob } from './context';
import { looksOnly as wording } from '../words';

/** Tells viewers once how they could change the job, and offers a copy of their own. */
export function LooksOnly() {
  const { job } = useJob();
  return (
    <>
      <Part
        looks
        label={wording.yourRoleForThis}
        editor={(close) => <Ways id={job.id} close={close} />}
      >
        {wording.youCanViewIt}
      </Part>
      {' · '}
    </>
  );
}

function Ways({ id, close }: { id: number; close: () => void }) {
  const router = useRouter();
  const [problem, setProblem] = useState<string>();
  const [busy, setBusy] = useState(false);
  return (
    <div style={{ display: 'grid', gap: 10, maxWidth: 380 }}>
      <p>{wording.youCanSeeThis}</p>
      <p>{wording.orMakeACopy}</p>
      {problem && <ErrorLine role="alert">{problem}</ErrorLine>}
      <div>
        <QuietButton
          looks
          isDisabled={busy}
          onPress={() => {
            setBusy(true);
            ask('copyJob', { params: { id } }).then(
              (made) => {
                close();
                router.push(`/jobs/${made.id}`);
              },
              (error: unknown) => {
                setBusy(false);
                setProblem(error instanceof Error ? error.message : String(error));
              },
            );
          }}
        >
          {busy ? wording.copying : wording.makeMyOwnCopy}
        </QuietButton>
      </div>
    </div>
  );
}
