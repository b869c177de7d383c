'use client';
import { useQuery } from '@tanstack/react-query';
import { Link } from '../../kit/link';
import { ask } from '../../kit/api';
import { ErrorLine } from '../../kit/controls';
import { when } from '../../kit/dates';
import { useMay } from '../../kit/me';
import { Page, Table } from '../../kit/index-table';
import { Mark } from '../../kit/mark';
import { jobsPage as wording } from './words';
import { withParts } from '../../kit/with-parts';

export function JobsPage() {
  const { data, error } = useQuery({
    queryKey: ['jobs'],
    queryFn: () => ask('listJobs'),
  });
  const may = useMay();
  return (
    <Page>
      <header>
        <h1>{wording.jobs}</h1>
        {may && <Link href="/bring-in">{wording.bringInRecordsFor}</Link>}
      </header>
      {error && <ErrorLine>{error.message}</ErrorLine>}
      {data && data.jobs.length === 0 && (
        <p>
          {may
            ? withParts(
                wording.noJobsYetTo,
                <Link href="/bring-in">{wording.bringInASpreadsheet}</Link>,
              )
            : wording.noJobIsShared}
        </p>
      )}
      {data && data.jobs.length > 0 && (
        <Table>
          <thead>
            <tr>
              <th>{wording.job}</th>
              <th>{wording.list}</th>
              <th>{wording.printedOn}</th>
              <th className="n">{wording.records}</th>
              <th className="n">{wording.ready}</th>
              <th className="n">{wording.needsALook}</th>
              <th className="n">{wording.leftOut}</th>
              <th>{wording.lastRun}</th>
              <th>{wording.changed}</th>
            </tr>
          </thead>
          <tbody>
            {data.jobs.map((job) => (
              <tr key={job.id}>
                <td>
                  <Link href={`/jobs/${job.id}`}>{job.name}</Link>
                </td>
                <td>{job.list}</td>
                <td>{job.on}</td>
                <td className="n">{job.records.toLocaleString('en')}</td>
                <td className="n">
                  <span className="m">
                    <Mark name="ready" /> {job.ready.toLocaleString('en')}
                  </span>
                </td>
                <td className="n">
                  {job.look > 0 && (
                    <span className="m">
                      <Mark name="look" /> {job.look.toLocaleString('en')}
                    </span>
                  )}
                </td>
                <td className="n">
                  {job.out > 0 && (
                    <span className="m">
                      <Mark name="out" /> {job.out.toLocaleString('en')}
                    </span>
                  )}
                </td>
                <td>
                  {job.lastRun && (
                    <span className="m">
                      <Mark
                        name={
                          job.lastRun.failed > 0 || job.lastRun.state === 'failed'
                            ? 'failed'
                            : job.lastRun.state === 'done'
                              ? 'ready'
                              : 'none'
                        }
                      />{' '}
                      {job.lastRun.name}
                    </span>
                  )}
                </td>
                <td suppressHydrationWarning>{when(job.updated)}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
    </Page>
  );
}
