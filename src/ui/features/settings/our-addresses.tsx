'use client';
import type * as contract from '../../../contract';

import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { counted } from '../../../core/base/words';
import { doorTrouble } from '../../../core/payload/door';
import { ask } from '../../kit/api';
import { ErrorLine, MainButton, Part, Sentence, Small, Warning, Words } from '../../kit/controls';
import { useOurAddresses } from '../../kit/our-addresses';
import { ourAddresses as wording } from './words';
import { withParts } from '../../kit/with-parts';

/**
 * The web addresses of this installation, in a sentence; the effect of another one is shown before
 * it is saved.
 */
export function OurAddresses() {
  const now = useOurAddresses();
  if (!now) return null;
  const trouble = doorTrouble(now.base);
  const linkTrouble = now.own ? doorTrouble(now.links) : undefined;
  return (
    <>
      <Sentence style={{ maxWidth: 760 }}>
        {withParts(
          wording.yourAddressLinksUse,
          now.from === 'start' ? (
            <b>{now.base}</b>
          ) : (
            <Part
              label={wording.addressOfHandStamp}
              editor={(close) => <AddressEditor now={now} which="base" close={close} />}
            >
              {now.base}
            </Part>
          ),
          now.from === 'machine' && wording.worksOnThisComputer,
          <Part
            label={wording.addressOfLinks}
            editor={(close) => <AddressEditor now={now} which="links" close={close} />}
          >
            {now.own ? now.links : wording.theSameAddress}
          </Part>,
        )}
      </Sentence>
      {now.from === 'start' && <Small>{wording.theFirstOneIs}</Small>}
      {trouble && (
        <Warning style={{ maxWidth: 760, marginTop: 4 }}>
          {withParts(wording.invitationsWebPagesAnd, new URL(now.base).host, trouble.message)}
        </Warning>
      )}
      {linkTrouble && (
        <Warning style={{ maxWidth: 760 }}>
          {withParts(wording.codesWithLinksUse, new URL(now.links).host, linkTrouble.message)}
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
  // the other one stays as it is, even if somebody else changed it in the meantime
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
        label={which === 'base' ? wording.addressSuchAsHttps : wording.addressOfLinksSuch}
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
          {wording.apply}
        </MainButton>
      </div>
    </div>
  );
}

/**
 * The effect of a change: which printed codes contain the old address, and what happens to them.
 */
function Effect({ effect }: { effect: contract.AddressesEffect }) {
  const codes = effect.printed.reduce((sum, job) => sum + job.records, 0);
  return (
    <div style={{ display: 'grid', gap: 6, fontSize: 13.5 }}>
      {codes === 0 ? (
        <p>{wording.noPrintedCodeContains}</p>
      ) : (
        <>
          <p>
            {withParts(
              wording.theOldAddress,
              counted(codes, wording.printedCode),
              codes === 1 ? 'carries' : 'carry',
            )}
          </p>
          <ul style={{ margin: 0, paddingLeft: 18 }}>
            {effect.printed.map((job) => (
              <li key={`${job.job} ${job.origin}`}>
                {withParts(wording.with, job.name, job.records.toLocaleString('en'), job.origin)}
              </li>
            ))}
          </ul>
          <p>{wording.printedCodesDoNot}</p>
        </>
      )}
      {effect.links > 0 && <p>{withParts(wording.willUseTheNew, counted(effect.links, 'link'))}</p>}
      {effect.pictures > 0 && (
        <p>
          {withParts(
            wording.givenOutWithThe,
            counted(effect.pictures, wording.pictureAddress, wording.pictureAddresses),
            effect.pictures === 1 ? 'was' : 'were',
          )}
        </p>
      )}
    </div>
  );
}
