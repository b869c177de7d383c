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
        Your address:{' '}
        {now.from === 'start' ? (
          <b>{now.base}</b>
        ) : (
          <Part
            label="Address of Hand Stamp"
            editor={(close) => <AddressEditor now={now} which="base" close={close} />}
          >
            {now.base}
          </Part>
        )}
        {now.from === 'machine' && ' (works on this computer only; no other address is set)'}. Links
        use{' '}
        <Part
          label="Address of links"
          editor={(close) => <AddressEditor now={now} which="links" close={close} />}
        >
          {now.own ? now.links : 'the same address'}
        </Part>
        .
      </Sentence>
      {now.from === 'start' && (
        <Small>The first one is set where Hand Stamp is started (HAND_STAMP_URL).</Small>
      )}
      {trouble && (
        <Warning style={{ maxWidth: 760, marginTop: 4 }}>
          {new URL(now.base).host} {trouble.message}. Invitations, web pages and pictures of codes
          use it.
        </Warning>
      )}
      {linkTrouble && (
        <Warning style={{ maxWidth: 760 }}>
          {new URL(now.links).host} {linkTrouble.message}. Codes with links use it.
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
            ? 'Address, such as https://stamp.example (leave blank for this computer)'
            : 'Address of links, such as https://go.example (leave blank for the same)'
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
          Apply
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
        <p>No printed code contains the old address.</p>
      ) : (
        <>
          <p>
            {counted(codes, 'printed code')} {codes === 1 ? 'carries' : 'carry'} the old address:
          </p>
          <ul style={{ margin: 0, paddingLeft: 18 }}>
            {effect.printed.map((job) => (
              <li key={`${job.job} ${job.origin}`}>
                {job.name}: {job.records.toLocaleString('en')}, with {job.origin}
              </li>
            ))}
          </ul>
          <p>
            Printed codes do not change. They work as long as the old name still points here. Keep
            the old name, or print again. Their jobs show them as changed since the print.
          </p>
        </>
      )}
      {effect.links > 0 && (
        <p>
          {counted(effect.links, 'link')} will use the new address in codes that are made from now
          on.
        </p>
      )}
      {effect.pictures > 0 && (
        <p>
          {counted(effect.pictures, 'picture address', 'picture addresses')}{' '}
          {effect.pictures === 1 ? 'was' : 'were'} given out with the old address. Pages that show
          them need that name too.
        </p>
      )}
    </div>
  );
}
