'use client';

import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { styled } from 'styled-components';
import type { JobSummary } from '../core/job/views';
import { ask } from './api';
import { ErrorLine } from './controls';
import { when } from './dates';
import { Mark } from './mark';
import { colour, font } from './theme';

const Page = styled.main`
  overflow: auto;
  padding: 20px 20px 40px;
  header {
    display: flex;
    align-items: baseline;
    gap: 18px;
    margin-bottom: 12px;
  }
  h1 {
    font: 700 25px/1.2 ${font.title};
    flex: 1;
  }
`;
const Table = styled.table`
  width: 100%;
  border-collapse: collapse;
  border-top: 1.5px solid ${colour.ink};
  th {
    text-align: left;
    font-weight: 400;
    font-size: 12.5px;
    color: ${colour.inkSoft};
    padding: 7px 12px;
    border-bottom: 1px solid ${colour.ruleStrong};
  }
  td {
    padding: 0 12px;
    height: 38px;
    border-bottom: 1px solid ${colour.rule};
  }
  td:first-child a {
    font-weight: 700;
    color: ${colour.ink};
    text-decoration: none;
    display: block;
    line-height: 37px;
  }
  td:first-child a:hover {
    text-decoration: underline;
  }
  tbody tr:hover {
    background: ${colour.paper};
  }
  .n {
    text-align: right;
    font-variant-numeric: tabular-nums;
  }
  .m {
    display: inline-flex;
    gap: 6px;
    align-items: center;
  }
`;

export function JobsPage() {
  const { data, error } = useQuery({ queryKey: ['jobs'], queryFn: () => ask<{ jobs: JobSummary[] }>('/api/jobs') });
  return (
    <Page>
      <header>
        <h1>Jobs</h1>
        <Link href="/bring-in">Bring in records for a new job</Link>
      </header>
      {error && <ErrorLine>{error.message}</ErrorLine>}
      {data && data.jobs.length === 0 && (
        <p>
          There is no job yet. <Link href="/bring-in">Bring in a spreadsheet</Link> to start one.
        </p>
      )}
      {data && data.jobs.length > 0 && (
        <Table>
          <thead>
            <tr>
              <th>Job</th>
              <th>List</th>
              <th className="n">Records</th>
              <th className="n">Ready</th>
              <th className="n">Needs a look</th>
              <th className="n">Left out</th>
              <th>Last run</th>
              <th>Changed</th>
            </tr>
          </thead>
          <tbody>
            {data.jobs.map((job) => (
              <tr key={job.id}>
                <td>
                  <Link href={`/jobs/${job.id}`}>{job.name}</Link>
                </td>
                <td>{job.list}</td>
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
