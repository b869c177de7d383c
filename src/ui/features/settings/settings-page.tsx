'use client';
import type { z } from 'zod';
import type * as contract from '../../../contract';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '../../kit/link';
import { useState } from 'react';
import { keptForDays, keptKinds, keptWords } from '../../../core/job/retention';
import { ask } from '../../kit/api';
import { ChoicePart, ErrorLine, PlainButton, Sentence, Small } from '../../kit/controls';
import { Page, Table } from '../../kit/index-table';
import { ConnectionForm } from '../../editors/connection-form';
import { font } from '../../kit/theme';
import { MailServerSettings } from './mail-server';
import { OurAddresses } from './our-addresses';

const size = (bytes: number): string =>
  bytes >= 2 ** 30
    ? `${(bytes / 2 ** 30).toFixed(1)} GB`
    : bytes >= 2 ** 20
      ? `${Math.round(bytes / 2 ** 20)} MB`
      : 'under 1 MB';
const span = (days: number): string =>
  days === 0 ? 'no limit' : days === 365 ? 'a year' : days === 7 ? 'a week' : `${days} days`;

/** What holds for all of Hand Stamp: in sentences, like everything else. */
export function SettingsPage() {
  const client = useQueryClient();
  const settings = useQuery({
    queryKey: ['settings'],
    queryFn: () => ask('viewSettings'),
  });
  const connections = useQuery({
    queryKey: ['connections'],
    queryFn: () => ask('listConnections'),
  });
  const [problem, setProblem] = useState<string>();
  const [adding, setAdding] = useState(false);
  const explain = (e: unknown) => setProblem(e instanceof Error ? e.message : String(e));
  const keep = (next: z.input<typeof contract.settingsSchema>) =>
    void ask('changeSettings', { body: next }).then((now) => {
      setProblem(undefined);
      client.setQueryData(['settings'], now);
    }, explain);
  const heading = { font: `700 17px/1.3 ${font.title}`, margin: '26px 0 8px' };
  return (
    <Page>
      <header>
        <h1>Settings</h1>
        <Link href="/programs">Programs and API keys</Link>
      </header>
      {(problem ?? settings.error?.message) && (
        <ErrorLine>{problem ?? settings.error?.message}</ErrorLine>
      )}
      <h2 style={{ ...heading, marginTop: 8 }}>Your address</h2>
      <OurAddresses />
      <h2 style={heading}>Which servers Hand Stamp may contact</h2>
      {settings.data && (
        <Sentence style={{ maxWidth: 760 }}>
          To check addresses and read databases:{' '}
          <ChoicePart
            label="Which servers Hand Stamp may contact"
            value={settings.data.doorPrivate ? 'all' : 'public'}
            onChange={(id) => keep({ doorPrivate: id === 'all' })}
            choices={[
              {
                id: 'public',
                name: 'public servers only',
                about: 'Addresses of this computer and of your own network are not contacted.',
              },
              {
                id: 'all',
                name: 'also servers in our own network',
                about: 'For codes on your own Wi-Fi, or lists from your own database.',
              },
            ]}
          />
          .
        </Sentence>
      )}
      <h2 style={heading}>Email</h2>
      <MailServerSettings onProblem={setProblem} />
      <h2 style={heading}>How long things are kept</h2>
      {settings.data && (
        <>
          <Sentence style={{ maxWidth: 760, marginBottom: 10 }}>
            Storage: {size(settings.data.whole.bytes)} of{' '}
            <ChoicePart
              label="Storage limit"
              value={String(settings.data.whole.gb)}
              onChange={(gb) => keep({ wholeGb: Number(gb) })}
              choices={[...new Set([5, 10, 20, 50, 100, 200, 500, settings.data.whole.gb])]
                .sort((a, b) => a - b)
                .map((gb) => ({ id: String(gb), name: `${gb} GB` }))}
            />{' '}
            used. When it is full, you cannot add or make anything new. Lists, jobs, runs and
            receipts stay until you delete them.
          </Sentence>
          <Table style={{ maxWidth: 900 }}>
            <thead>
              <tr>
                <th>What</th>
                <th>Size</th>
                <th>Kept for</th>
              </tr>
            </thead>
            <tbody>
              {keptKinds.map((kind) => (
                <tr key={kind}>
                  <td style={{ paddingBlock: 7 }}>
                    {keptWords[kind].name}
                    <Small>{keptWords[kind].about}</Small>
                  </td>
                  <td>{size(settings.data.kinds[kind].bytes)}</td>
                  <td>
                    <ChoicePart
                      label={`How long to keep: ${keptWords[kind].name}`}
                      value={String(settings.data.kinds[kind].days)}
                      onChange={(days) => keep({ kept: { [kind]: Number(days) } })}
                      choices={keptForDays.map((days) => ({ id: String(days), name: span(days) }))}
                    />
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </>
      )}
      <h2 style={heading}>Databases for lists</h2>
      {connections.data && connections.data.connections.length > 0 && (
        <Table style={{ maxWidth: 900 }}>
          <thead>
            <tr>
              <th>Connection</th>
              <th>Database</th>
              <th>Server</th>
              <th>User</th>
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
                    aria-label={`Remove ${c.name}`}
                    onPress={() =>
                      void ask('forgetConnection', { params: { id: c.id } }).then(
                        () => connections.refetch(),
                        explain,
                      )
                    }
                  >
                    Remove
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
        <PlainButton
          onPress={() => setAdding(true)}
          style={{ padding: '8px 0', textDecoration: 'underline', textUnderlineOffset: 3 }}
        >
          Add a connection
        </PlainButton>
      )}
      <Small style={{ paddingTop: 6 }}>
        If you remove a connection, its lists keep their records but can no longer be updated.
      </Small>
    </Page>
  );
}
