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
  { id: 'own', name: 'Write your own', about: 'Starts when a record is added.' },
  {
    id: 'volunteers',
    name: 'Email a code to each new person',
    about: 'When a record is added: make its code and email it.',
  },
  {
    id: 'agreements',
    name: 'A code on every PDF that arrives in the In-tray',
    about: 'Only PDFs whose record is known, once each, on the page that the job sets.',
  },
  {
    id: 'signs',
    name: 'A sign for each new record',
    about: 'When a record has a location: make its sign and put it into the Out-tray.',
  },
  {
    id: 'check-in',
    name: 'The check-in sheet, every Friday',
    about: 'On a schedule, for all records that are ready.',
  },
  {
    id: 'links',
    name: 'A link and a picture address for each new record',
    about: 'Created and written into the record.',
  },
  {
    id: 'withdrawals',
    name: 'Call a web address when something is withdrawn',
    about: 'When a column gets a certain value: call another program.',
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
      if (!list) throw new Error('Add a list first. A standing order needs records.');
      return ask('makeOrder', {
        body: {
          name: 'New standing order',
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
        Each one starts turned off and uses your own lists and jobs. Change its parts, check its
        rehearsal, then turn it on.
      </Small>
      <Choose
        label="Which standing order"
        value={undefined}
        onChange={(kind) => !make.isPending && make.mutate(kind)}
        choices={ready}
      />
      {told && <ErrorLine>{told}</ErrorLine>}
    </div>
  );
}
