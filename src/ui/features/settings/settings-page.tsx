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
import { settingsPage as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const size = (bytes: number): string =>
  bytes >= 2 ** 30
    ? filled(wording.gB, (bytes / 2 ** 30).toFixed(1))
    : bytes >= 2 ** 20
      ? filled(wording.mB, Math.round(bytes / 2 ** 20))
      : wording.under1MB;
const span = (days: number): string =>
  days === 0
    ? wording.noLimit
    : days === 365
      ? wording.aYear
      : days === 7
        ? wording.aWeek
        : filled(wording.days, days);

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
        <h1>{wording.settings}</h1>
        <Link href="/programs">{wording.programsAndAPIKeys}</Link>
      </header>
      {(problem ?? settings.error?.message) && (
        <ErrorLine>{problem ?? settings.error?.message}</ErrorLine>
      )}
      <h2 style={{ ...heading, marginTop: 8 }}>{wording.yourAddress}</h2>
      <OurAddresses />
      <h2 style={heading}>{wording.whichServersHandStamp}</h2>
      {settings.data && (
        <Sentence style={{ maxWidth: 760 }}>
          {withParts(
            wording.toCheckAddressesAnd,
            <ChoicePart
              label={wording.whichServersHandStamp}
              value={settings.data.doorPrivate ? 'all' : 'public'}
              onChange={(id) => keep({ doorPrivate: id === 'all' })}
              choices={[
                {
                  id: 'public',
                  name: wording.publicServersOnly,
                  about: wording.addressesOfThisComputer,
                },
                {
                  id: 'all',
                  name: wording.alsoServersInOur,
                  about: wording.forCodesOnYour,
                },
              ]}
            />,
          )}
        </Sentence>
      )}
      <h2 style={heading}>{wording.email}</h2>
      <MailServerSettings onProblem={setProblem} />
      <h2 style={heading}>{wording.howLongThingsAre}</h2>
      {settings.data && (
        <>
          <Sentence style={{ maxWidth: 760, marginBottom: 10 }}>
            {withParts(
              wording.storageOfUsedWhen,
              size(settings.data.whole.bytes),
              <ChoicePart
                label={wording.storageLimit}
                value={String(settings.data.whole.gb)}
                onChange={(gb) => keep({ wholeGb: Number(gb) })}
                choices={[...new Set([5, 10, 20, 50, 100, 200, 500, settings.data.whole.gb])]
                  .sort((a, b) => a - b)
                  .map((gb) => ({ id: String(gb), name: filled(wording.gB, gb) }))}
              />,
            )}
          </Sentence>
          <Table style={{ maxWidth: 900 }}>
            <thead>
              <tr>
                <th>{wording.what}</th>
                <th>{wording.size}</th>
                <th>{wording.keptFor}</th>
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
                      label={filled(wording.howLongToKeep, keptWords[kind].name)}
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
      <h2 style={heading}>{wording.databasesForLists}</h2>
      {connections.data && connections.data.connections.length > 0 && (
        <Table style={{ maxWidth: 900 }}>
          <thead>
            <tr>
              <th>{wording.connection}</th>
              <th>{wording.database}</th>
              <th>{wording.server}</th>
              <th>{wording.user}</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {connections.data.connections.map((c) => (
              <tr key={c.id}>
                <td>{c.name}</td>
                <td>{c.database}</td>
                <td>{withParts(wording.port, c.host, c.port)}</td>
                <td>{c.username}</td>
                <td className="n">
                  <PlainButton
                    aria-label={filled(wording.remove2, c.name)}
                    onPress={() =>
                      void ask('forgetConnection', { params: { id: c.id } }).then(
                        () => connections.refetch(),
                        explain,
                      )
                    }
                  >
                    {wording.remove}
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
          {wording.addAConnection}
        </PlainButton>
      )}
      <Small style={{ paddingTop: 6 }}>{wording.ifYouRemoveA}</Small>
    </Page>
  );
}
