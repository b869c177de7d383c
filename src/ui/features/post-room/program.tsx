'use client';
import { useQuery } from '@tanstack/react-query';
import { ask } from '../../kit/api';
import { Small } from '../../kit/controls';
import { program as wording } from './words';
import { withParts } from '../../kit/with-parts';

/** A program at hand that asks by a key and is told what happens, where one stands in. */
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
