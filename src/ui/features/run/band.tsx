'use client';
import { useQuery } from '@tanstack/react-query';
import { styled } from 'styled-components';
import { ask } from '../../kit/api';
import { ErrorLine } from '../../kit/controls';
import { useJob } from '../../shell/ledger/context';
import { colour } from '../../kit/theme';
import { RunHistory } from './history';
import { outputOf } from '../../../core/run/outputs';
import { MailPreview } from './mail-preview';
import { Sheets } from './sheets';

const Layout = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
  height: 100%;
  .sheets {
    background: ${colour.groundDeep};
    padding: 14px 20px;
    overflow: auto;
    display: grid;
    grid-template-rows: auto 1fr;
    gap: 10px;
    justify-items: center;
  }
  .history {
    border-left: 1px solid ${colour.rule};
    overflow: auto;
    padding: 14px 18px;
  }
  .pager {
    display: flex;
    gap: 10px;
    align-items: center;
    font-size: 13px;
  }
`;

export function RunBand() {
  const { job, plan } = useJob();
  const runs = useQuery({
    queryKey: ['runs', job.id],
    queryFn: () => ask('listRuns', { params: { id: job.id } }),
    refetchInterval: ({ state }) =>
      state.data?.runs.some(
        (r) =>
          r.state === 'waiting' ||
          r.state === 'running' ||
          (r.mail && r.mail.counts.waiting + r.mail.counts.handing > 0),
      )
        ? 500
        : 5000,
  });
  return (
    <Layout>
      {outputOf(plan.output.kind).delivers === 'mail' ? <MailPreview /> : <Sheets />}
      <div className="history">
        {runs.error ? (
          <ErrorLine>{runs.error.message}</ErrorLine>
        ) : (
          <RunHistory runs={runs.data?.runs ?? []} loading={runs.isPending} />
        )}
      </div>
    </Layout>
  );
}
