'use client';

import { useInfiniteQuery } from '@tanstack/react-query';
import { Link } from '../../kit/link';
import { useDeferredValue, useState } from 'react';
import { addressTo, ask } from '../../kit/api';
import { ErrorLine, PlainButton, Words } from '../../kit/controls';
import { Page, Table } from '../../kit/index-table';
import { Mark } from '../../kit/mark';
import { colour, font } from '../../kit/theme';
import { journalPage as wording } from './words';

const moment = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  year: 'numeric',
  hour: '2-digit',
  minute: '2-digit',
  second: '2-digit',
});

/** The journal: actions with person and time. It can be searched and downloaded, never changed. */
export function JournalPage() {
  const [q, setQ] = useState('');
  const [from, setFrom] = useState('');
  const [until, setUntil] = useState('');
  const asked = useDeferredValue({
    q: q || undefined,
    from: from || undefined,
    until: until || undefined,
  });
  const { data, error, hasNextPage, fetchNextPage, isFetching } = useInfiniteQuery({
    queryKey: ['journal', asked],
    queryFn: ({ pageParam }) => ask('viewJournal', { query: { ...asked, before: pageParam } }),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => (last.more ? last.lines.at(-1)?.id : undefined),
  });
  const lines = data?.pages.flatMap((page) => page.lines) ?? [];
  return (
    <Page>
      <header>
        <h1>{wording.journal}</h1>
        <a href={addressTo('journalFile', { query: asked })} download>
          {wording.downloadLogCSV}
        </a>
      </header>
      <div style={{ display: 'flex', gap: 14, paddingBottom: 14, maxWidth: 820 }}>
        <div style={{ flex: 1 }}>
          <Words label={wording.searchPeopleActionsItems} value={q} onChange={setQ} />
        </div>
        <Words label={wording.from} type="date" value={from} onChange={setFrom} />
        <Words label={wording.until} type="date" value={until} onChange={setUntil} />
      </div>
      {error && <ErrorLine role="alert">{error.message}</ErrorLine>}
      {from && until && from > until && <ErrorLine role="alert">{wording.theFirstDayIs}</ErrorLine>}
      <Table>
        <thead>
          <tr>
            <th>{wording.when}</th>
            <th>{wording.who}</th>
            <th>{wording.action}</th>
            <th>{wording.item}</th>
            <th>{wording.result}</th>
            <th>{wording.requestNo}</th>
          </tr>
        </thead>
        <tbody>
          {lines.map((line) => (
            <tr key={line.id}>
              <td suppressHydrationWarning style={{ whiteSpace: 'nowrap' }}>
                {moment.format(new Date(line.at))}
              </td>
              <td style={{ whiteSpace: 'nowrap' }}>{line.who}</td>
              <td style={{ paddingBlock: 6 }}>{line.what.replace(/\.$/, '')}</td>
              <td>
                {line.job ? (
                  <Link href={`/jobs/${line.job}`} style={{ display: 'inline', lineHeight: 1.4 }}>
                    {line.about || wording.aJob}
                  </Link>
                ) : (
                  line.about
                )}
              </td>
              <td>
                <span className="m">
                  {line.outcome !== 'done' && (
                    <Mark name={line.outcome === 'failed' ? 'failed' : 'look'} />
                  )}
                  {line.outcome ?? 'unknown'}
                </span>
              </td>
              <td style={{ font: `12.5px ${font.code}`, color: colour.inkSoft }}>{line.request}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      {data && lines.length === 0 && (
        <p style={{ padding: '16px 12px' }}>
          {q || from || until ? wording.noEntryMatchesChange : wording.noEntriesYet}
        </p>
      )}
      {hasNextPage && (
        <PlainButton looks isDisabled={isFetching} onPress={() => void fetchNextPage()}>
          {wording.showEarlierEntries}
        </PlainButton>
      )}
    </Page>
  );
}
