'use client';
import type * as contract from '../../contract';

import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { ask } from '../kit/api';
import { portOf, portTrouble } from '../kit/port';
import { ChoicePart, ErrorLine, MainButton, Sentence, Small, Words } from '../kit/controls';

const blank = { name: '', host: '', port: '5432', database: '', username: '', password: '' };
const labels: readonly [keyof typeof blank, string][] = [
  ['name', 'Name of this connection'],
  ['host', 'Server (host)'],
  ['port', 'Port'],
  ['database', 'Database'],
  ['username', 'User name (read-only)'],
  ['password', 'Password'],
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
        Encryption:{' '}
        <ChoicePart
          label="Encryption"
          value={tls}
          onChange={setTls}
          choices={[
            { id: 'yes', name: 'encrypted, its certificate checked', about: 'Recommended.' },
            {
              id: 'unchecked',
              name: 'encrypted, its certificate not checked',
              about: 'For a server with a certificate of its own.',
            },
            {
              id: 'no',
              name: 'not encrypted',
              about: 'Others on the network can read it. Use only for a database on this computer.',
            },
          ]}
        />
        .
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
          {keep.isPending ? 'Testing …' : 'Test and save'}
        </MainButton>
      </div>
      <Small>The password is stored encrypted and never shown.</Small>
      {wrongPort && <ErrorLine>{wrongPort}</ErrorLine>}
      {keep.error && <ErrorLine>{keep.error.message}</ErrorLine>}
    </form>
  );
}
