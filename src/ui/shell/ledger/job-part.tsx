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

/** The job's name, by which it is renamed or thrown away. */
export function JobPart() {
  const { job } = useJob();
  const may = useMay();
  if (!may) return job.name;
  return (
    <Part
      plain
      label="Rename, share or delete this job"
      editor={(close) => <JobEditor close={close} />}
    >
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
        <Words label="Name of this job" value={name} onChange={setName} autoFocus />
        <QuietButton type="submit">Rename</QuietButton>
      </form>
      <div style={{ borderTop: `1px solid ${colour.rule}`, paddingTop: 9 }}>
        <Sharing of="job" id={job.id} />
      </div>
      <div style={{ borderTop: `1px solid ${colour.rule}`, paddingTop: 9 }}>
        <ThrowAway
          what="this job"
          says={
            last
              ? `This deletes its piece, its runs and their files. The list ${job.list.name} with its ${job.counts.all.toLocaleString('en')} records is deleted too, because no other job uses it. This cannot be undone.`
              : `This deletes its piece, its runs and their files. The list ${job.list.name} stays, because other jobs use it. This cannot be undone.`
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
