'use client';
import { useQuery } from '@tanstack/react-query';
import { ask } from '../../kit/api';
import { Small } from '../../kit/controls';
import { program as wording } from './words';
import { withParts } from '../../kit/with-parts';

/** The demo's other program, which uses an API key and a webhook. */
export function StandInProgram() {
  const { data } = useQuery({
    queryKey: ['stand-ins'],
    queryFn: () => ask('viewStandInProgram'),
  });
  if (!data) return null;
  return data.program ? (
    <p>
      {withParts(
        wording.createsAccessionsByA,
        <a href={data.program} target="_blank" rel="noreferrer">
          {wording.theGardensApp}
        </a>,
      )}
    </p>
  ) : (
    <Small>{wording.thereIsNoTest}</Small>
  );
}
