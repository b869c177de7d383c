'use client';
import { useQuery } from '@tanstack/react-query';
import { ask } from '../../kit/api';
import { Small } from '../../kit/controls';

/** A program at hand that asks by a key and is told what happens, where one stands in. */
export function StandInProgram() {
  const { data } = useQuery({
    queryKey: ['stand-ins'],
    queryFn: () => ask('viewStandInProgram'),
  });
  if (!data) return null;
  return data.program ? (
    <p>
      <a href={data.program} target="_blank" rel="noreferrer">
        The garden’s app
      </a>{' '}
      creates accessions by a key of its own, shows the code that comes back, and hears what happens
      to them, and what standing orders tell the seed vault.
    </p>
  ) : (
    <Small>There is no test program here. An administrator can create API keys for programs.</Small>
  );
}
