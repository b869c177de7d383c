'use client';

import { useMutation } from '@tanstack/react-query';
import type { OrderView } from '../../../contract';
import { ask } from '../../kit/api';
import { ErrorLine, QuietButton, Small } from '../../kit/controls';
import { callPart as wording } from './words';
import { withParts } from '../../kit/with-parts';

/**
 * The web address for programs that call an order, its secret, and the values of the last call.
 */
export function CallPart({ order }: { order: OrderView }) {
  const make = useMutation({
    mutationFn: () => ask('newCallSecret', { params: { id: order.id } }),
  });
  const { call } = order;
  return (
    <section
      aria-label={wording.howProgramsCallIt}
      style={{ marginTop: 14, display: 'grid', gap: 6 }}
    >
      <p>
        {withParts(
          wording.programsSendJSONTo,
          <code>{call?.address}</code>,
          <code>Authorization: Bearer …</code>,
        )}
      </p>
      {make.data ? (
        <p>
          {withParts(
            wording.theSecretShownOnce,
            <code style={{ userSelect: 'all' }}>{make.data.secret}</code>,
          )}
        </p>
      ) : (
        <div>
          <QuietButton onPress={() => make.mutate()}>{wording.createANewSecret}</QuietButton>
        </div>
      )}
      {make.error && <ErrorLine>{make.error.message}</ErrorLine>}
      {call && call.places.length > 0 && (
        <Small>
          {withParts(
            wording.theLastCallBrought,
            call.places
              .slice(0, 8)
              .map(([place, value]) => `${place}: ${value.slice(0, 30)}`)
              .join('; '),
            call.places.length > 8 ? ' …' : '',
          )}
        </Small>
      )}
    </section>
  );
}
