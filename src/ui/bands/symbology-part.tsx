'use client';

import { useQuery } from '@tanstack/react-query';
import type { SymbologyFit } from '../../core/job/views';
import type { Stamp } from '../../core/payload/stamp';
import { symbologies, type SymbologyId } from '../../core/symbology';
import { ask } from '../api';
import { Choose, ErrorLine, Part, Small } from '../controls';
import { useJob } from '../ledger/context';

/** The symbology of a stamp: those that fit every record first, the others with how many do not fit and why. */
export function SymbologyPart({ stamp, onChange }: { stamp: Stamp; onChange: (id: SymbologyId) => void }) {
  return (
    <Part
      label="Symbology"
      editor={(close) => (
        <SymbologyEditor
          stamp={stamp}
          onChange={(id) => {
            onChange(id);
            close();
          }}
        />
      )}
    >
      {symbologies[stamp.symbology].name}
    </Part>
  );
}

function SymbologyEditor({ stamp, onChange }: { stamp: Stamp; onChange: (id: SymbologyId) => void }) {
  const { job } = useJob();
  const { data, error } = useQuery({
    queryKey: ['fits', job.id, stamp.id, job.version, job.list.revision],
    queryFn: () => ask<{ fits: SymbologyFit[]; looked: number; of: number }>(`/api/jobs/${job.id}/fits?stamp=${stamp.id}`),
  });
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  if (!data) return <Small>Looking which ones fit …</Small>;
  const ranked = [...data.fits].sort((a, b) => Math.sign(a.misfits) - Math.sign(b.misfits));
  return (
    <>
      <Choose
        label="Symbology"
        value={stamp.symbology}
        onChange={onChange}
        choices={ranked.map((fit) => ({
          id: fit.id,
          name:
            fit.misfits === 0
              ? `${fit.name}, fits all`
              : `${fit.name}, ${fit.misfits.toLocaleString('en')} ${fit.misfits === 1 ? 'does' : 'do'} not fit`,
          about: fit.misfits === 0 ? fit.about : [fit.reason, fit.mend].filter(Boolean).join(' '),
        }))}
      />
      {data.looked < data.of && (
        <Small>
          Looked at {data.looked.toLocaleString('en')} of {data.of.toLocaleString('en')} records: those with a content, and of long lists an
          even sample.
        </Small>
      )}
    </>
  );
}
