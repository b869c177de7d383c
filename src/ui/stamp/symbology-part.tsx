'use client';

import { useQuery } from '@tanstack/react-query';
import type { SymbologyFit } from '../../core/job/views';
import { contentOf, encodeOptionsOf, type Stamp } from '../../core/payload/stamp';
import { explainFit, symbologies, symbologyIds, type SymbologyId } from '../../core/symbology';
import type { Values } from '../../core/records/columns';
import { ask } from '../api';
import { Choose, ErrorLine, Part, Small } from '../controls';
import { useBench } from './bench';

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
  const { job, values } = useBench();
  const { data, error } = useQuery({
    queryKey: ['fits', job, job ? stamp.id : [stamp, values]],
    queryFn: async () =>
      job
        ? ask<{ fits: SymbologyFit[]; looked: number; of: number }>(`/api/jobs/${job.id}/fits?stamp=${stamp.id}`)
        : { fits: fitsOfOne(stamp, values ?? {}), looked: 1, of: 1 },
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
              ? `${fit.name}, fits${data.of > 1 ? ' all' : ''}`
              : data.of === 1
                ? `${fit.name}, does not fit`
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

/** For each symbology, whether it can say the content of one record. */
export function fitsOfOne(stamp: Stamp, values: Values): SymbologyFit[] {
  const content = contentOf(stamp, values);
  return symbologyIds.map((id) => {
    const { name, about } = symbologies[id];
    const fit =
      content.state === 'said'
        ? explainFit(id, content.payload, encodeOptionsOf(stamp))
        : { fits: false as const, reason: 'There is nothing to encode.' };
    return fit.fits
      ? { id, name, about, misfits: 0 }
      : { id, name, about, misfits: 1, reason: fit.reason, mend: 'mend' in fit ? fit.mend : undefined };
  });
}
