'use client';

import { useQuery } from '@tanstack/react-query';
import type { DoorTrouble } from '../../core/payload/door';
import type { Stamp } from '../../core/payload/stamp';
import { ask } from '../api';
import { ErrorLine, Part, Small } from '../controls';
import { Mark } from '../mark';
import { font } from '../theme';
import { useBench } from './bench';

interface Host {
  host: string;
  records: number;
  trouble?: DoorTrouble;
}

/** Whether the addresses of a stamp can be opened by a stranger, as far as they tell by themselves. */
export function DoorPart({ stamp }: { stamp: Stamp }) {
  const { job } = useBench();
  if (!job || !['page', 'genuine', 'check-in'].includes(stamp.does)) return null;
  return (
    <Part label="Will it work at the door" editor={<DoorReport stamp={stamp} />}>
      Will it work at the door?
    </Part>
  );
}

function DoorReport({ stamp }: { stamp: Stamp }) {
  const { job } = useBench();
  const { data, error } = useQuery({
    queryKey: ['door', job, stamp.id],
    queryFn: () => ask<{ hosts: Host[] }>(`/api/jobs/${job!.id}/door?stamp=${stamp.id}`),
  });
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  if (!data) return <Small>Looking at every address …</Small>;
  if (data.hosts.length === 0) return <Small>No record has an address yet.</Small>;
  return (
    <>
      <ul style={{ listStyle: 'none', margin: 0, padding: 0, display: 'grid', gap: 9, maxHeight: 320, overflow: 'auto', maxWidth: 460 }}>
        {data.hosts.map(({ host, records, trouble }) => (
          <li key={host} style={{ display: 'grid', gridTemplateColumns: '14px 1fr auto', gap: '1px 8px', alignItems: 'baseline' }}>
            <Mark name={trouble ? 'look' : 'ready'} label={trouble ? 'needs a look' : 'nothing speaks against it'} />
            <span style={{ fontFamily: font.code, overflowWrap: 'anywhere' }}>{host}</span>
            <span style={{ fontVariantNumeric: 'tabular-nums' }}>
              {records.toLocaleString('en')} {records === 1 ? 'code' : 'codes'}
            </span>
            {trouble && (
              <Small style={{ gridColumn: '2 / 4' }}>
                {trouble.message}. {trouble.mend}
              </Small>
            )}
          </li>
        ))}
      </ul>
      <Small>Told from the addresses alone; none of them was asked for.</Small>
    </>
  );
}
