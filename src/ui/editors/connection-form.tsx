'use client';
import type * as contract from '../../contract';

import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { ask } from '../kit/api';
import { portOf, portTrouble } from '../kit/port';
import { ChoicePart, ErrorLine, MainButton, Sentence, Small, Words } from '../kit/controls';

const blank = { name: '', host: '', port: '5432', database: '', username: '', password: '' };
const labels: readonly [keyof typeof blank, string][] = [
  ['name', 'Call the connection'],
  ['host', 'Machine it runs on'],
  ['port', 'Port'],
  ['database', 'Database'],
  ['username', 'User, one who may only read'],
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
        It is connected to{' '}
        <ChoicePart
          label="How it is connected to"
          value={tls}
          onChange={setTls}
          choices={[
            { id: 'yes', name: 'encrypted, its certificate checked', about: 'As it should be.' },
            {
              id: 'unchecked',
              name: 'encrypted, its certificate not checked',
              about: 'Where it has one of its own making.',
            },
            {
              id: 'no',
              name: 'not encrypted',
              about: 'Whoever is on the way can read along; for a database on this very machine.',
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
          {keep.isPending ? 'Trying …' : 'Try it and keep it'}
        </MainButton>
      </div>
      <Small>The password is kept sealed, and shown to nobody.</Small>
      {wrongPort && <ErrorLine>{wrongPort}</ErrorLine>}
      {keep.error && <ErrorLine>{keep.error.message}</ErrorLine>}
    </form>
  );
}
