'use client';
import type * as contract from '../../../contract';

import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { counted } from '../../../core/base/words';
import { doorTrouble } from '../../../core/payload/door';
import { ask } from '../../kit/api';
import { ErrorLine, MainButton, Part, Sentence, Small, Warning, Words } from '../../kit/controls';
import { useOurAddresses } from '../../kit/our-addresses';

/**
 * Under which addresses people reach this installation, in a sentence; what another one comes to is
 * said before it is in force.
 */
export function OurAddresses() {
  const now = useOurAddresses();
  if (!now) return null;
  const trouble = doorTrouble(now.base);
  const linkTrouble = now.own ? doorTrouble(now.links) : undefined;
  return (
    <>
      <Sentence style={{ maxWidth: 760 }}>
        People reach this Hand Stamp at{' '}
        {now.from === 'start' ? (
          <b>{now.base}</b>
        ) : (
          <Part
            label="Address of this Hand Stamp"
            editor={(close) => <AddressEditor now={now} which="base" close={close} />}
          >
            {now.base}
          </Part>
        )}
        {now.from === 'machine' && ', which is this machine, since nothing else was said'}, and
        links at{' '}
        <Part
          label="Address of links"
          editor={(close) => <AddressEditor now={now} which="links" close={close} />}
        >
          {now.own ? now.links : 'the same address'}
        </Part>
        .
      </Sentence>
      {now.from === 'start' && (
        <Small>The first is said where Hand Stamp is started (HAND_STAMP_URL).</Small>
      )}
      {trouble && (
        <Warning style={{ maxWidth: 760, marginTop: 4 }}>
          {new URL(now.base).host} {trouble.message}. Invitations, pages and pictures of codes hold
          it.
        </Warning>
      )}
      {linkTrouble && (
        <Warning style={{ maxWidth: 760 }}>
          {new URL(now.links).host} {linkTrouble.message}. Codes that go by links hold it.
        </Warning>
      )}
    </>
  );
}

function AddressEditor({
  now,
  which,
  close,
}: {
  now: contract.AddressesView;
  which: 'base' | 'links';
  close: () => void;
}) {
  const client = useQueryClient();
  const before =
    which === 'links' ? (now.own ? now.links : '') : now.from === 'machine' ? '' : now.base;
  const [text, setText] = useState(before);
  // the other one stays as it is, also where somebody else changed it meanwhile
  const wanted = { [which]: text.trim() };
  const asked = useDeferredValue(JSON.stringify(wanted));
  const effect = useQuery({
    queryKey: ['addresses-effect', asked],
    queryFn: () => ask('tryOurAddresses', { body: JSON.parse(asked) as typeof wanted }),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const keep = useMutation({
    mutationFn: () => ask('changeOurAddresses', { body: wanted }),
    onSuccess: (next) => {
      client.setQueryData(['our-addresses'], next);
      void client.invalidateQueries();
      close();
    },
  });
  const changed = text.trim() !== before;
  const use = () => changed && !effect.error && keep.mutate();
  return (
    <div style={{ display: 'grid', gap: 10, width: 460 }}>
      <Words
        label={
          which === 'base'
            ? 'Address, such as https://stamp.marrambay.example; blank: this machine'
            : 'Address of links, such as https://go.marrambay.example; blank: the same'
        }
        value={text}
        onChange={setText}
        autoFocus
        onEnter={use}
      />
      {effect.error ? (
        <ErrorLine style={{ fontSize: 13 }}>{effect.error.message}</ErrorLine>
      ) : (
        changed && effect.data && <Effect effect={effect.data} />
      )}
      {keep.error && <ErrorLine>{keep.error.message}</ErrorLine>}
      <div>
        <MainButton isDisabled={!changed || Boolean(effect.error) || keep.isPending} onPress={use}>
          Use this from now on
        </MainButton>
      </div>
    </div>
  );
}

/**
 * What a change comes to: which printed codes carry the address before, and what happens to them.
 */
function Effect({ effect }: { effect: contract.AddressesEffect }) {
  const codes = effect.printed.reduce((sum, job) => sum + job.records, 0);
  return (
    <div style={{ display: 'grid', gap: 6, fontSize: 13.5 }}>
      {codes === 0 ? (
        <p>No code that was printed carries the address before.</p>
      ) : (
        <>
          <p>
            {counted(codes, 'printed code')} {codes === 1 ? 'carries' : 'carry'} the address before:
          </p>
          <ul style={{ margin: 0, paddingLeft: 18 }}>
            {effect.printed.map((job) => (
              <li key={`${job.job} ${job.origin}`}>
                {job.name}: {job.records.toLocaleString('en')}, with {job.origin}
              </li>
            ))}
          </ul>
          <p>
            They are not changed, and go on leading as long as that name leads to this Hand Stamp:
            keep it, or print them again. In their jobs they stand as changed since they were
            printed.
          </p>
        </>
      )}
      {effect.links > 0 && (
        <p>
          {counted(effect.links, 'link')} will say the new address in codes that are made from now
          on.
        </p>
      )}
      {effect.pictures > 0 && (
        <p>
          {counted(effect.pictures, 'picture address', 'picture addresses')}{' '}
          {effect.pictures === 1 ? 'was' : 'were'} given out under the address before; pages that
          show them need that name too.
        </p>
      )}
    </div>
  );
}
