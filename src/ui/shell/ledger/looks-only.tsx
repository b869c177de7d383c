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
        label="Your role for this job"
        editor={(close) => <Ways id={job.id} close={close} />}
      >
        you can view it
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
        You can see this job but not change it. To change it, ask someone who can to share it with
        you.
      </p>
      <p>
        Or make a copy of your own, with its records, stamps and piece as they are now. Secret
        values are not copied.
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
          {busy ? 'Copying …' : 'Make my own copy'}
        </QuietButton>
      </div>
    </div>
  );
}
