'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useContext, useState } from 'react';
import type { Stamp } from '../../core/payload/stamp';
import { ask } from '../api';
import { ErrorLine, Part, QuietButton, Small } from '../controls';
import { JobScreenContext } from '../ledger/context';
import { font } from '../theme';

/** Addresses under which the picture of each record's code can be fetched by any page or spreadsheet. */
export function AddressesPart({ stamp }: { stamp: Stamp }) {
  const screen = useContext(JobScreenContext);
  if (!screen) return null;
  return (
    <Part label="Picture addresses" editor={<Addresses stamp={stamp} />}>
      Picture addresses
    </Part>
  );
}

function Addresses({ stamp }: { stamp: Stamp }) {
  const { job, handRow } = useContext(JobScreenContext)!;
  const client = useQueryClient();
  const [problem, setProblem] = useState<string>();
  const path = `/api/jobs/${job.id}/addresses`;
  const query = `stamp=${stamp.id}${handRow ? `&record=${handRow.id}` : ''}`;
  const { data, error } = useQuery({
    queryKey: ['addresses', job.id, stamp.id, handRow?.id],
    queryFn: () => ask<{ count: number; token: string | null }>(`${path}?${query}`),
  });
  const act = (work: Promise<unknown>) =>
    void work.then(
      () => client.invalidateQueries({ queryKey: ['addresses'] }),
      (e: unknown) => setProblem(e instanceof Error ? e.message : String(e)),
    );
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  if (!data) return <Small>Looking …</Small>;
  const own = data.token && `${window.location.origin}/c/${data.token}.png`;
  return (
    <div style={{ display: 'grid', gap: 10, width: 440 }}>
      <Small>
        Each record’s code as a picture at an address that nobody can guess, for a page, a mail or a cell of a spreadsheet. It always shows
        the code as it is now. With <code>.svg</code> in place of <code>.png</code> it is an outline; <code>?mm=30&amp;dpi=300</code> sets
        its size.
      </Small>
      {data.count === 0 ? (
        <div>
          <QuietButton onPress={() => act(ask(path, { json: { stamp: stamp.id } }))}>Give every record an address</QuietButton>
        </div>
      ) : (
        <>
          {own && (
            <a href={own} target="_blank" rel="noreferrer" style={{ font: `400 13px/1.4 ${font.code}`, overflowWrap: 'anywhere' }}>
              {own}
            </a>
          )}
          <div style={{ display: 'flex', gap: 8, flexWrap: 'wrap', alignItems: 'center' }}>
            <a href={`${path}?stamp=${stamp.id}&as=csv`} download>
              All {data.count.toLocaleString('en')} as CSV
            </a>
            <QuietButton onPress={() => act(ask(path, { json: { stamp: stamp.id } }))}>For new records too</QuietButton>
            {own && handRow && (
              <QuietButton onPress={() => act(ask(path, { method: 'DELETE', json: { stamp: stamp.id, records: [handRow.id] } }))}>
                Withdraw this one
              </QuietButton>
            )}
            <QuietButton onPress={() => act(ask(path, { method: 'DELETE', json: { stamp: stamp.id } }))}>Withdraw all</QuietButton>
          </div>
        </>
      )}
      {problem && <ErrorLine>{problem}</ErrorLine>}
    </div>
  );
}
