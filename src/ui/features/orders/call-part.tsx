'use client';

import { useMutation } from '@tanstack/react-query';
import type { OrderView } from '../../../contract';
import { ask } from '../../kit/api';
import { ErrorLine, QuietButton, Small } from '../../kit/controls';

/** Where programs call an order, its secret, and what the last call brought. */
export function CallPart({ order }: { order: OrderView }) {
  const make = useMutation({
    mutationFn: () => ask('newCallSecret', { params: { id: order.id } }),
  });
  const { call } = order;
  return (
    <section aria-label="How programs call it" style={{ marginTop: 14, display: 'grid', gap: 6 }}>
      <p>
        Programs send JSON to <code>{call?.address}</code>, with the secret as{' '}
        <code>Authorization: Bearer …</code>, or signed with it (Standard Webhooks).
      </p>
      {make.data ? (
        <p>
          The secret, shown once: <code style={{ userSelect: 'all' }}>{make.data.secret}</code>
        </p>
      ) : (
        <div>
          <QuietButton onPress={() => make.mutate()}>Create a new secret</QuietButton>
        </div>
      )}
      {make.error && <ErrorLine>{make.error.message}</ErrorLine>}
      {call && call.places.length > 0 && (
        <Small>
          The last call brought{' '}
          {call.places
            .slice(0, 8)
            .map(([place, value]) => `${place}: ${value.slice(0, 30)}`)
            .join('; ')}
          {call.places.length > 8 ? ' …' : ''}. You can use these values in any text of this order.
        </Small>
      )}
    </section>
  );
}
