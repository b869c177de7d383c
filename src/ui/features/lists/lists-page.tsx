'use client';
import { counted, plural } from '../../../core/base/words';
import { sourceOf } from '../../../core/job/sources';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '../../kit/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { ListSummary } from '../../../contract';
import { ask } from '../../kit/api';
import { ErrorLine, MainButton, Part, QuietButton, Words } from '../../kit/controls';
import { when } from '../../kit/dates';
import { useMay } from '../../kit/me';
import { Sharing } from '../../kit/sharing';
import { Page, Table } from '../../kit/index-table';
import { Mark } from '../../kit/mark';
import { colour } from '../../kit/theme';
import { ThrowAway } from '../../kit/throw-away';
import { listsPage as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/** The lists: the source of each, its state, and its jobs. */
export function ListsPage() {
  const { data, error } = useQuery({
    queryKey: ['lists'],
    queryFn: () => ask('listLists'),
  });
  const may = useMay();
  return (
    <Page>
      <header>
        <h1>{wording.lists}</h1>
        {may && <Link href="/bring-in">{wording.bringInRecordsFor}</Link>}
      </header>
      {error && <ErrorLine>{error.message}</ErrorLine>}
      {data && data.lists.length === 0 && (
        <p>
          {may
            ? withParts(
                wording.noListsYetTo,
                <Link href="/bring-in">{wording.bringInASpreadsheet}</Link>,
              )
            : wording.thereIsNoList}
        </p>
      )}
      {data && data.lists.length > 0 && (
        <Table>
          <thead>
            <tr>
              <th>{wording.list}</th>
              <th>{wording.from}</th>
              <th className="n">{wording.records}</th>
              <th className="n">{wording.needsALook}</th>
              <th className="n">{wording.revisions}</th>
              <th>{wording.stamps}</th>
              <th>{wording.jobs}</th>
              <th>{wording.changed}</th>
              <th aria-label={wording.renameOrDelete} />
            </tr>
          </thead>
          <tbody>
            {data.lists.map((list) => (
              <tr key={list.id}>
                <td>
                  <Link href={list.jobs[0] ? `/jobs/${list.jobs[0].id}?band=records` : '/lists'}>
                    {list.name}
                  </Link>
                </td>
                <td>{[list.source, sourceOf(list).about].filter(Boolean).join(', ')}</td>
                <td className="n">{list.records.toLocaleString('en')}</td>
                <td className="n">
                  {list.problems > 0 && (
                    <span className="m">
                      <Mark name="look" /> {list.problems.toLocaleString('en')}
                    </span>
                  )}
                </td>
                <td className="n">{list.revisions.toLocaleString('en')}</td>
                <td>{list.stamps.join(', ')}</td>
                <td>
                  {list.jobs.map((job, i) => (
                    <span key={job.id}>
                      {i > 0 && ', '}
                      <Link href={`/jobs/${job.id}`}>{job.name}</Link>
                    </span>
                  ))}
                  <Part
                    plain
                    label={filled(wording.newJobFor, list.name)}
                    editor={<NewJob list={list} />}
                  >
                    {wording.newJob}
                  </Part>
                </td>
                <td suppressHydrationWarning>{when(list.updated)}</td>
                <td>
                  <Part
                    plain
                    label={filled(wording.renameOrDelete2, list.name)}
                    editor={(close) => <ListEditor list={list} close={close} />}
                  >
                    {wording.edit}
                  </Part>
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
    </Page>
  );
}

/** Another job of the same list: its stamps, another piece. */
function NewJob({ list }: { list: ListSummary }) {
  const router = useRouter();
  const [name, setName] = useState('');
  const make = useMutation({
    mutationFn: () => ask('addJob', { params: { id: list.id }, body: { name } }),
    onSuccess: ({ id }) => router.push(`/jobs/${id}`),
  });
  return (
    <form
      style={{ display: 'flex', gap: 8, alignItems: 'end' }}
      onSubmit={(e) => {
        e.preventDefault();
        make.mutate();
      }}
    >
      <Words
        label={filled(wording.newJobWithThe, list.name)}
        value={name}
        onChange={setName}
        autoFocus
      />
      <MainButton
        type="submit"
        isDisabled={name.trim() === '' || make.isPending}
        style={{ padding: '6px 12px' }}
      >
        {wording.createJob}
      </MainButton>
      {make.error && <ErrorLine>{make.error.message}</ErrorLine>}
    </form>
  );
}

/** What works with a list and no longer will, in words. */
function stopping({ checkpoints, orders }: ListSummary): string {
  const parts = [
    checkpoints.length > 0 &&
      `${plural(checkpoints.length, wording.theCheckpoint)} ${checkpoints.join(', ')}`,
    orders.length > 0 && `${plural(orders.length, wording.theStandingOrder)} ${orders.join(', ')}`,
  ].filter(Boolean);
  return parts.length === 0 ? '' : filled(wording.theseStopWorking, parts.join('; '));
}

function ListEditor({ list, close }: { list: ListSummary; close: () => void }) {
  const client = useQueryClient();
  const [name, setName] = useState(list.name);
  const done = async () => {
    close();
    await client.invalidateQueries({ queryKey: ['lists'] });
  };
  const rename = useMutation({
    mutationFn: () => ask('renameList', { params: { id: list.id }, body: { name } }),
    onSuccess: done,
  });
  const { data: links, error: unknown } = useQuery({
    queryKey: ['links', 'counts', list.id],
    queryFn: () => ask('linkCounts', { query: { list: list.id } }),
  });
  const jobs = list.jobs.map((job) => job.name);
  return (
    <>
      <form
        style={{ display: 'flex', gap: 8, alignItems: 'end' }}
        onSubmit={(e) => {
          e.preventDefault();
          rename.mutate();
        }}
      >
        <Words label={wording.nameOfThisList} value={name} onChange={setName} autoFocus />
        <QuietButton type="submit" isDisabled={name.trim() === ''}>
          {wording.rename}
        </QuietButton>
      </form>
      {rename.error && <ErrorLine>{rename.error.message}</ErrorLine>}
      <div style={{ borderTop: `1px solid ${colour.rule}`, paddingTop: 9 }}>
        <Sharing of="list" id={list.id} />
      </div>
      <div style={{ borderTop: `1px solid ${colour.rule}`, paddingTop: 9 }}>
        <ThrowAway
          what={wording.thisList}
          says={filled(
            wording.thisDeletesThisCannot,
            counted(list.records, 'record', 'records'),
            jobs.length
              ? filled(
                  wording.andWithTheirRuns,
                  plural(jobs.length, wording.theJob),
                  jobs.join(', '),
                )
              : '',
            stopping(list),
            links?.printed
              ? filled(
                  wording.nowhereAfterThat,
                  counted(links.printed, wording.printedCodeUsesIts, wording.printedCodesUseIts),
                )
              : '',
            unknown ? wording.itIsNotKnown : '',
          )}
          onThrow={() => ask('removeList', { params: { id: list.id } }).then(done)}
        />
      </div>
    </>
  );
}
