'use client';
import { useQueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { ask } from '../../kit/api';
import { Part, QuietButton, Words } from '../../kit/controls';
import { useMay } from '../../kit/me';
import { Sharing } from '../../kit/sharing';
import { ThrowAway } from '../../kit/throw-away';
import { colour } from '../../kit/theme';
import { useJob } from './context';
import { jobPart as wording } from '../words';
import { filled } from '../../kit/with-parts';

/** The job's name, with which it is renamed or deleted. */
export function JobPart() {
  const { job } = useJob();
  const may = useMay();
  if (!may) return job.name;
  return (
    <Part plain label={wording.renameShareOrDelete} editor={(close) => <JobEditor close={close} />}>
      {job.name}
    </Part>
  );
}

function JobEditor({ close }: { close: () => void }) {
  const { job, setProblem } = useJob();
  const client = useQueryClient();
  const router = useRouter();
  const [name, setName] = useState(job.name);
  const rename = async () => {
    close();
    if (name.trim() === '' || name === job.name) return;
    await ask('changeJob', {
      params: { id: job.id },
      body: { version: job.version, name: name.trim() },
    }).then(
      (view) => client.setQueryData(['job', job.id], view),
      (error: unknown) => setProblem(error instanceof Error ? error.message : String(error)),
    );
  };
  const last = job.list.jobs === 1;
  return (
    <>
      <form
        style={{ display: 'flex', gap: 8, alignItems: 'end' }}
        onSubmit={(e) => {
          e.preventDefault();
          void rename();
        }}
      >
        <Words label={wording.nameOfThisJob} value={name} onChange={setName} autoFocus />
        <QuietButton type="submit">{wording.rename}</QuietButton>
      </form>
      <div style={{ borderTop: `1px solid ${colour.rule}`, paddingTop: 9 }}>
        <Sharing of="job" id={job.id} />
      </div>
      <div style={{ borderTop: `1px solid ${colour.rule}`, paddingTop: 9 }}>
        <ThrowAway
          what={wording.thisJob}
          says={
            last
              ? filled(
                  wording.thisDeletesItsPiece,
                  job.list.name,
                  job.counts.all.toLocaleString('en'),
                )
              : filled(wording.thisDeletesItsPieceIts, job.list.name)
          }
          onThrow={() =>
            ask('removeJob', { params: { id: job.id } }).then(async () => {
              await client.invalidateQueries({ queryKey: ['jobs'] });
              router.push('/jobs');
            })
          }
        />
      </div>
    </>
  );
}
