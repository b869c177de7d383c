'use client';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { ask } from '../../kit/api';
import { ErrorLine, Part, QuietButton } from '../../kit/controls';
import { useJob } from './context';

/**
 * Said once to whoever may only look at a job: what it would need to change it, and the way to one
 * of their own.
 */
export function LooksOnly() {
  const { job } = useJob();
  return (
    <>
      <Part
        looks
        label="What you may do with this job"
        editor={(close) => <Ways id={job.id} close={close} />}
      >
        you look at it
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
      <p>
        You see this job as it is and cannot spoil it. To change it, someone who may has to share it
        with you.
      </p>
      <p>
        Or take a copy of your own: its records, stamps and piece as they are now. What is secret in
        it stays behind.
      </p>
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
          {busy ? 'Copying …' : 'Copy it as my own'}
        </QuietButton>
      </div>
    </div>
  );
}
