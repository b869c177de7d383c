'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ask } from './api';
import { ChoicePart, ErrorLine, PlainButton, Sentence, Small } from './controls';
import { Page, Table } from './index-table';
import { ConnectionForm, type Connection } from './intake/connection-form';
import { font } from './theme';

interface Settings {
  doorPrivate: boolean;
}

/** What holds for all of Hand Stamp: in sentences, like everything else. */
export function SettingsPage() {
  const client = useQueryClient();
  const settings = useQuery({ queryKey: ['settings'], queryFn: () => ask<Settings>('/api/settings') });
  const connections = useQuery({ queryKey: ['connections'], queryFn: () => ask<{ connections: Connection[] }>('/api/connections') });
  const [problem, setProblem] = useState<string>();
  const [adding, setAdding] = useState(false);
  const explain = (e: unknown) => setProblem(e instanceof Error ? e.message : String(e));
  const keep = (next: Settings) =>
    void ask<Settings>('/api/settings', { method: 'PUT', json: next }).then((now) => client.setQueryData(['settings'], now), explain);
  const heading = { font: `700 17px/1.3 ${font.title}`, margin: '26px 0 8px' };
  return (
    <Page>
      <header>
        <h1>Settings</h1>
      </header>
      {(problem ?? settings.error?.message) && <ErrorLine>{problem ?? settings.error?.message}</ErrorLine>}
      <h2 style={{ ...heading, marginTop: 8 }}>At the door</h2>
      {settings.data && (
        <Sentence style={{ maxWidth: 760 }}>
          When addresses are asked whether they open, and databases are read,{' '}
          <ChoicePart
            label="Which addresses may be asked"
            value={settings.data.doorPrivate ? 'all' : 'public'}
            onChange={(id) => keep({ doorPrivate: id === 'all' })}
            choices={[
              {
                id: 'public',
                name: 'only public ones are asked',
                about: 'Addresses of this machine and of your own network are left alone.',
              },
              {
                id: 'all',
                name: 'those in our own network are asked too',
                about: 'Where codes are scanned on your own Wi-Fi, or lists come from a database of yours.',
              },
            ]}
          />
          .
        </Sentence>
      )}
      <h2 style={heading}>Databases that lists are read from</h2>
      {connections.data && connections.data.connections.length > 0 && (
        <Table style={{ maxWidth: 900 }}>
          <thead>
            <tr>
              <th>Connection</th>
              <th>Database</th>
              <th>At</th>
              <th>As</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {connections.data.connections.map((c) => (
              <tr key={c.id}>
                <td>{c.name}</td>
                <td>{c.database}</td>
                <td>
                  {c.host}, port {c.port}
                </td>
                <td>{c.username}</td>
                <td className="n">
                  <PlainButton
                    aria-label={`Forget ${c.name}`}
                    onPress={() => void ask(`/api/connections/${c.id}`, { method: 'DELETE' }).then(() => connections.refetch(), explain)}
                  >
                    Forget
                  </PlainButton>
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      {adding ? (
        <div style={{ paddingTop: 14 }}>
          <ConnectionForm onKept={() => (setAdding(false), void connections.refetch())} />
        </div>
      ) : (
        <PlainButton onPress={() => setAdding(true)} style={{ padding: '8px 0', textDecoration: 'underline', textUnderlineOffset: 3 }}>
          Add a connection
        </PlainButton>
      )}
      <Small style={{ paddingTop: 6 }}>
        A list that was read keeps its records when its connection is forgotten; it cannot be read again then.
      </Small>
    </Page>
  );
}
