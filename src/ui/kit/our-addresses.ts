'use client';
import { useQuery } from '@tanstack/react-query';
import type * as contract from '../../contract';
import { ask } from './api';

/** Under which addresses this installation is reached; undefined until it is known. */
export function useOurAddresses(): contract.AddressesView | undefined {
  const { data } = useQuery({
    queryKey: ['our-addresses'],
    queryFn: () => ask('viewOurAddresses'),
    staleTime: 60_000,
  });
  return data;
}
