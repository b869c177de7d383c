'use client';

import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { ReadyKind } from '../../../contract';
import { orderSchema } from '../../../core/orders/order';
import { ask } from '../../kit/api';
import { Choose, ErrorLine, Small } from '../../kit/controls';
import { useChoices } from './use-order';

const ready: readonly { id: ReadyKind | 'own'; name: string; about: string }[] = [
  { id: 'own', name: 'A sentence of your own', about: 'Begins with: when a record comes.' },
  {
    id: 'volunteers',
    name: 'Codes for new volunteers, by mail',
    about: 'When a record comes: make its code and mail it there.',
  },
  {
    id: 'agreements',
    name: 'A code on every agreement that lands in the In-tray',
    about: 'Only PDFs whose record is known, once each, on the page that the job says.',
  },
  {
    id: 'signs',
    name: 'Bed signs for new accessions',
    about: 'When a record has a bed: make its sign and put it into the Out-tray.',
  },
  {
    id: 'check-in',
    name: 'The check-in sheet, every Friday',
    about: 'By the clock, for all that are ready.',
  },
  {
    id: 'links',
    name: 'A link and a picture’s address for each new record',
    about: 'Made and written back.',
  },
  {
    id: 'withdrawals',
    name: 'Tell an address when something is withdrawn',
    about: 'When a state is reached: call a program of somebody else.',
  },
];

/** Chooses a sentence that is ready, or begins one. */
export function NewOrder() {
  const router = useRouter();
  const client = useQueryClient();
  const choices = useChoices();
  const [told, setTold] = useState<string>();
  const make = useMutation({
    mutationFn: async (kind: ReadyKind | 'own') => {
      if (kind !== 'own') return ask('makeOrder', { body: { ready: kind } });
      const { lists = [] } = choices.data ?? (await choices.refetch()).data ?? {};
      const [list] = lists;
      if (!list) throw new Error('Bring a list in first: an order is about its records.');
      return ask('makeOrder', {
        body: {
          name: 'A new order',
          document: orderSchema.parse({
            when: { kind: 'record', list: list.id, on: ['came'] },
            conditions: { all: true, list: [] },
            steps: [],
          }),
        },
      });
    },
    onSuccess: ({ id }) => {
      void client.invalidateQueries({ queryKey: ['orders'] });
      router.push(`/orders/${id}`);
    },
    onError: (error) => setTold(error.message),
  });
  return (
    <div style={{ display: 'grid', gap: 10, width: 420 }}>
      <Small>
        Each is made switched off, with the lists and jobs that suit it best. Change its parts, look
        at its rehearsal, then switch it on.
      </Small>
      <Choose
        label="Which order"
        value={undefined}
        onChange={(kind) => !make.isPending && make.mutate(kind)}
        choices={ready}
      />
      {told && <ErrorLine>{told}</ErrorLine>}
    </div>
  );
}
