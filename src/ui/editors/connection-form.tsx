'use client';
import type * as contract from '../../contract';

import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { ask } from '../kit/api';
import { portOf, portTrouble } from '../kit/port';
import { ChoicePart, ErrorLine, MainButton, Sentence, Small, Words } from '../kit/controls';
import { connectionForm as wording } from './words';
import { withParts } from '../kit/with-parts';

const blank = { name: '', host: '', port: '5432', database: '', username: '', password: '' };
const labels: readonly [keyof typeof blank, string][] = [
  ['name', wording.nameOfThisConnection],
  ['host', wording.serverHost],
  ['port', wording.port],
  ['database', wording.database],
  ['username', wording.userNameReadOnly],
  ['password', wording.password],
];

/** A connection to a PostgreSQL database: tried before it is kept, its password sealed. */
export function ConnectionForm({ onKept }: { onKept: (id: number) => void }) {
  const [form, setForm] = useState(blank);
  const [tls, setTls] = useState<contract.NewConnection['tls']>('yes');
  const keep = useMutation({
    mutationFn: (port: number) => ask('keepConnection', { body: { ...form, tls, port } }),
    onSuccess: ({ id }) => onKept(id),
  });
  const port = portOf(form.port);
  const wrongPort = portTrouble(form.port, '5432');
  return (
    <form
      style={{ display: 'grid', gap: 10, maxWidth: 440 }}
      onSubmit={(e) => {
        e.preventDefault();
        if (port !== undefined) keep.mutate(port);
      }}
    >
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 10 }}>
        {labels.map(([id, label]) => (
          <Words
            key={id}
            label={label}
            value={form[id]}
            type={id === 'password' ? 'password' : undefined}
            onChange={(value) => setForm({ ...form, [id]: value })}
          />
        ))}
      </div>
      <Sentence>
        {withParts(
          wording.encryption2,
          <ChoicePart
            label={wording.encryption}
            value={tls}
            onChange={setTls}
            choices={[
              { id: 'yes', name: wording.encryptedItsCertificateChecked, about: 'Recommended.' },
              {
                id: 'unchecked',
                name: wording.encryptedItsCertificateNot,
                about: wording.forAServerWith,
              },
              {
                id: 'no',
                name: wording.notEncrypted,
                about: wording.othersOnTheNetwork,
              },
            ]}
          />,
        )}
      </Sentence>
      <div>
        <MainButton
          type="submit"
          isDisabled={
            keep.isPending ||
            !form.name ||
            !form.host ||
            !form.database ||
            !form.username ||
            port === undefined
          }
        >
          {keep.isPending ? wording.testing : wording.testAndSave}
        </MainButton>
      </div>
      <Small>{wording.thePasswordIsStored}</Small>
      {wrongPort && <ErrorLine>{wrongPort}</ErrorLine>}
      {keep.error && <ErrorLine>{keep.error.message}</ErrorLine>}
    </form>
  );
}
