'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { includes, sharedRights, type SharedRight } from '../../core/access/rights';
import { ask } from './api';
import { ErrorLine, PlainButton, Small } from './controls';
import { Pick } from './pick';
import { sharing as wording } from './words';
import { filled, withParts } from './with-parts';

const ways = sharedRights.map((id) => ({
  id,
  name: id === 'viewer' ? wording.asAViewer : wording.asAnEditor,
}));

/** The people with whom a job, or a list with all its jobs, is shared. */
export function Sharing({ of, id }: { of: 'job' | 'list'; id: number }) {
  const client = useQueryClient();
  const key = ['shares', of, id];
  const { data, error } = useQuery({
    queryKey: key,
    queryFn: () => ask(of === 'job' ? 'jobShares' : 'listShares', { params: { id } }),
  });
  const [problem, setProblem] = useState<string>();
  const [right, setRight] = useState<SharedRight>('viewer');
  const share = (person: string, to: SharedRight | null) =>
    void ask(of === 'job' ? 'shareJob' : 'shareList', {
      params: { id },
      body: { person, right: to },
    }).then(
      (now) => (setProblem(undefined), client.setQueryData(key, now)),
      (e: unknown) => setProblem(e instanceof Error ? e.message : String(e)),
    );
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  if (!data) return <Small>{wording.loadingWhoItIs}</Small>;
  return (
    <div style={{ display: 'grid', gap: 8 }}>
      {problem && <ErrorLine role="alert">{problem}</ErrorLine>}
      <p>{data.shares.length === 0 ? wording.notSharedWithAnyone : wording.sharedWith}</p>
      {data.shares.map((one) => (
        <div key={one.person} style={{ display: 'flex', gap: 10, alignItems: 'center' }}>
          <b>{one.name}</b> {one.right === 'viewer' ? wording.asAViewer : wording.asAnEditor}
          <PlainButton
            aria-label={filled(wording.stopSharingWith, one.name)}
            onPress={() => share(one.person, null)}
          >
            {wording.stopSharing}
          </PlainButton>
        </div>
      ))}
      {data.others.length > 0 && (
        <>
          <Pick label={wording.share} value={right} choices={ways} onChange={setRight} />
          <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap' }}>
            {data.others
              .filter((person) => !includes(person.right, right))
              .map((person) => (
                <PlainButton
                  key={person.id}
                  style={{ textDecoration: 'underline', padding: '2px 4px' }}
                  onPress={() => share(person.id, right)}
                >
                  {withParts(wording.with, person.name)}
                </PlainButton>
              ))}
          </div>
        </>
      )}
    </div>
  );
}
