'use client';

import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { ReadyKind } from '../../../contract';
import { orderSchema } from '../../../core/orders/order';
import { ask } from '../../kit/api';
import { Choose, ErrorLine, Small } from '../../kit/controls';
import { useChoices } from './use-order';
import { newOrder as wording } from './words';

const ready: readonly { id: ReadyKind | 'own'; name: string; about: string }[] = [
  { id: 'own', name: wording.writeYourOwn, about: wording.startsWhenARecord },
  {
    id: 'volunteers',
    name: wording.emailACodeTo,
    about: wording.whenARecordIs,
  },
  {
    id: 'agreements',
    name: wording.aCodeOnEvery,
    about: wording.onlyPDFsWhoseRecord,
  },
  {
    id: 'signs',
    name: wording.aSignForEach,
    about: wording.whenARecordHas,
  },
  {
    id: 'check-in',
    name: wording.theCheckInSheet,
    about: wording.onAScheduleFor,
  },
  {
    id: 'links',
    name: wording.aLinkAndA,
    about: wording.createdAndWrittenInto,
  },
  {
    id: 'withdrawals',
    name: wording.callAWebAddress,
    about: wording.whenAColumnGets,
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
      if (!list) throw new Error(wording.addAListFirst);
      return ask('makeOrder', {
        body: {
          name: wording.newStandingOrder,
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
      <Small>{wording.eachOneStartsTurned}</Small>
      <Choose
        label={wording.whichStandingOrder}
        value={undefined}
        onChange={(kind) => !make.isPending && make.mutate(kind)}
        choices={ready}
      />
      {told && <ErrorLine>{told}</ErrorLine>}
    </div>
  );
}
